// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/log_bytes.h"

#include <fmt/format.h>
#include <iconv.h>
#include <zlib.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>
#include <vector>

#include "exchange/text_encoding.h"

namespace ash {
namespace {

constexpr size_t kPieceB = size_t{128} * 1024;

/// Counts what is taken of the file.
class CountedFile : public ByteSource {
 public:
  explicit CountedFile(std::unique_ptr<FileSource> file) : m_file(std::move(file)) {}
  size_t read(char* to, size_t size) override {
    const size_t got = m_file->read(to, size);
    readB += static_cast<double>(got);
    return got;
  }
  double readB = 0;

 private:
  std::unique_ptr<FileSource> m_file;
};

/// RFC 1952, several members one after the other, through zlib.
class Unpacked : public ByteSource {
 public:
  explicit Unpacked(std::unique_ptr<ByteSource> packed) : m_packed(std::move(packed)), m_in(kPieceB) {
    constexpr int kGzipOnly = 16;
    m_isOpen = inflateInit2(&m_stream, MAX_WBITS + kGzipOnly) == Z_OK;
  }
  ~Unpacked() override {
    if (m_isOpen) inflateEnd(&m_stream);
  }
  Unpacked(const Unpacked&) = delete;
  Unpacked& operator=(const Unpacked&) = delete;

  size_t read(char* to, size_t size) override {
    m_stream.next_out = reinterpret_cast<Bytef*>(to);
    m_stream.avail_out = static_cast<uInt>(size);
    while (m_isOpen && !m_isOver && m_stream.avail_out == size) step();
    return size - m_stream.avail_out;
  }
  bool isBroken = false;

 private:
  void step() {
    if (m_stream.avail_in == 0) {
      const size_t got = m_packed->read(m_in.data(), m_in.size());
      if (got == 0) {
        isBroken = !m_isBetween;
        m_isOver = true;
        return;
      }
      m_stream.next_in = reinterpret_cast<Bytef*>(m_in.data());
      m_stream.avail_in = static_cast<uInt>(got);
    }
    m_isBetween = false;
    const int done = inflate(&m_stream, Z_NO_FLUSH);
    if (done == Z_STREAM_END) {
      m_isBetween = true;
      inflateReset(&m_stream);
    } else if (done != Z_OK) {
      isBroken = m_isOver = true;
    }
  }

  std::unique_ptr<ByteSource> m_packed;
  std::vector<char> m_in;
  z_stream m_stream{};
  bool m_isOpen = false, m_isOver = false, m_isBetween = true;
};

/// Through iconv(3), a piece at a time; what is no character becomes U+FFFD.
class Converted : public ByteSource {
 public:
  Converted(std::unique_ptr<ByteSource> from, const char* encoding, size_t unit)
      : m_from(std::move(from)), m_unit(unit), m_handle(iconv_open("UTF-8", encoding)) {}
  ~Converted() override {
    if (isOpen()) iconv_close(m_handle);
  }
  Converted(const Converted&) = delete;
  Converted& operator=(const Converted&) = delete;
  bool isOpen() const { return m_handle != reinterpret_cast<iconv_t>(-1); }

  size_t read(char* to, size_t size) override {
    char* out = to;
    size_t room = size;
    while (room == size) {
      if (!m_isStarved && !m_in.empty()) convert(out, room);
      if (room < size) break;
      std::string more(kPieceB, '\0');
      more.resize(m_from->read(more.data(), more.size()));
      if (more.empty()) break;  // a character cut at the very end belongs to a cut line
      m_in += more;
      m_isStarved = false;
    }
    return size - room;
  }

 private:
  void convert(char*& out, size_t& room) {
    constexpr std::string_view kNoCharacter = "\xEF\xBF\xBD";
    char* in = m_in.data();
    size_t left = m_in.size();
    const size_t done = iconv(m_handle, &in, &left, &out, &room);
    const int why = errno;
    if (done == static_cast<size_t>(-1) && why == EILSEQ && room >= kNoCharacter.size()) {
      std::memcpy(out, kNoCharacter.data(), kNoCharacter.size());
      out += kNoCharacter.size();
      room -= kNoCharacter.size();
      const size_t skipped = std::min(left, m_unit);
      in += skipped;
      left -= skipped;
    }
    m_isStarved = done == static_cast<size_t>(-1) && why == EINVAL;
    m_in.erase(0, m_in.size() - left);
  }

  std::unique_ptr<ByteSource> m_from;
  size_t m_unit;
  iconv_t m_handle;
  std::string m_in;
  bool m_isStarved = false;
};

/// Leaves zeros out.
class WithoutZeros : public ByteSource {
 public:
  explicit WithoutZeros(std::unique_ptr<ByteSource> from) : m_from(std::move(from)) {}
  size_t read(char* to, size_t size) override {
    while (true) {
      const size_t got = m_from->read(to, size);
      if (got == 0 || std::memchr(to, '\0', got) == nullptr) return got;
      const size_t left = static_cast<size_t>(std::remove(to, to + got, '\0') - to);
      zeros += got - left;
      if (left > 0) return left;
    }
  }
  size_t zeros = 0;

 private:
  std::unique_ptr<ByteSource> m_from;
};

/// Hands out first what was looked at already.
class Rejoined : public ByteSource {
 public:
  Rejoined(std::string head, std::unique_ptr<ByteSource> rest) : m_head(std::move(head)), m_rest(std::move(rest)) {}
  size_t read(char* to, size_t size) override {
    if (m_at == m_head.size()) return m_rest->read(to, size);
    const size_t some = std::min(size, m_head.size() - m_at);
    std::memcpy(to, m_head.data() + m_at, some);
    m_at += some;
    return some;
  }

 private:
  std::string m_head;
  size_t m_at = 0;
  std::unique_ptr<ByteSource> m_rest;
};

std::string readHead(ByteSource& source) {
  constexpr size_t kHeadB = size_t{64} * 1024;
  std::string head(kHeadB, '\0');
  size_t had = 0;
  for (size_t got = 1; had < kHeadB && got > 0; had += got) got = source.read(head.data() + had, kHeadB - had);
  head.resize(had);
  return head;
}

// Zeros between lines are a power cut's; between letters they are UTF-16 or no text at all.
bool isBinary(const std::string& head) {
  const auto isOdd = [](unsigned char c) {
    return c < 32 && c != '\t' && c != '\n' && c != '\r' && c != '\f' && c != 0;
  };
  const auto odd = static_cast<size_t>(std::count_if(head.begin(), head.end(), isOdd));
  size_t stretches = 0;
  for (size_t i = 1; i < head.size(); ++i) stretches += head[i] == '\0' && head[i - 1] != '\0';
  return odd > head.size() / 100 || stretches > 16 || head.find_first_not_of('\0') == std::string::npos;
}

}  // namespace

Result<LogBytes> openLogBytes(const std::string& path) {
  std::error_code error;
  if (std::filesystem::is_directory(path, error)) return Error::badInput(fmt::format("{} is a folder, no log.", path));
  auto file = FileSource::open(path);
  if (!file) return Error::badInput(fmt::format("Cannot read {}: {}.", path, std::generic_category().message(errno)));
  LogBytes bytes;
  const auto size = std::filesystem::file_size(path, error);
  bytes.sizeB = error ? 0 : static_cast<double>(size);
  auto counted = std::make_unique<CountedFile>(std::move(file));
  bytes.readB = &counted->readB;
  std::unique_ptr<ByteSource> source = std::move(counted);
  std::string head = readHead(*source);
  if (head.empty()) return Error::badInput(fmt::format("{} is empty.", path));
  if (head.starts_with("PK\x03\x04"))
    return Error::badInput(
        fmt::format("{} is a zip file: unpack it and take its logs in one by one. A package of runs is taken in by "
                    "`ashg import`.",
                    path));
  bytes.isPacked = head.starts_with("\x1F\x8B");
  source = std::make_unique<Rejoined>(head, std::move(source));
  if (bytes.isPacked) {
    auto unpacked = std::make_unique<Unpacked>(std::move(source));
    bytes.isBroken = &unpacked->isBroken;
    source = std::move(unpacked);
    head = readHead(*source);
    source = std::make_unique<Rejoined>(head, std::move(source));
  }
  const Encoding encoding = detectEncoding(head);
  if (encoding == Encoding::Utf16) {
    const bool hasMark = head.starts_with("\xFF\xFE") || head.starts_with("\xFE\xFF");
    const bool isBig = hasMark ? head.starts_with("\xFE\xFF") : head[0] == '\0';
    auto converted = std::make_unique<Converted>(std::move(source), isBig ? "UTF-16BE" : "UTF-16LE", 2);
    if (!converted->isOpen()) return Error::environment("This system cannot convert UTF-16; save the log as UTF-8.");
    bytes.encoding = "utf-16";
    bytes.source = std::move(converted);
    return bytes;
  }
  if (isBinary(head)) return Error::badInput(fmt::format("{} is a binary file: there is no log in it.", path));
  auto withoutZeros = std::make_unique<WithoutZeros>(std::move(source));
  bytes.zeros = &withoutZeros->zeros;
  source = std::move(withoutZeros);
  head.erase(std::remove(head.begin(), head.end(), '\0'), head.end());
  const bool isWindows = detectEncoding(head) == Encoding::Windows1252;
  bytes.encoding = isWindows ? "windows-1252" : "utf-8";
  if (isWindows) source = std::make_unique<Converted>(std::move(source), "WINDOWS-1252", 1);
  bytes.source = std::move(source);
  return bytes;
}

}  // namespace ash
