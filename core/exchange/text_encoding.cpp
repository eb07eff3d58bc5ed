// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/text_encoding.h"

#include <fmt/format.h>
#include <iconv.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstdint>

#include "model/text.h"

namespace ash {
namespace {

uint8_t byteAt(std::string_view bytes, size_t i) { return static_cast<uint8_t>(bytes[i]); }

/// A conversion of iconv(3) to UTF-8, closed with it.
class Converter {
 public:
  explicit Converter(const char* from) : m_handle(iconv_open("UTF-8", from)) {}
  Converter(const Converter&) = delete;
  Converter& operator=(const Converter&) = delete;
  ~Converter() {
    if (isOpen()) iconv_close(m_handle);
  }
  bool isOpen() const { return m_handle != reinterpret_cast<iconv_t>(-1); }

  /// What is no character becomes the sign for that (U+FFFD), `unit` bytes of it at a time.
  std::string toUtf8(std::string_view bytes, size_t unit) {
    constexpr std::string_view kNoCharacter = "\xEF\xBF\xBD";
    std::string out;
    std::string input(bytes);
    char* from = input.data();
    size_t left = input.size();
    std::array<char, 4096> part;
    while (left > 0) {
      char* to = part.data();
      size_t room = part.size();
      const size_t done = iconv(m_handle, &from, &left, &to, &room);
      out.append(part.data(), part.size() - room);
      if (done != static_cast<size_t>(-1) || errno == E2BIG) continue;
      // A character cut at the very end of the file is a cut line.
      if (errno == EINVAL || left < unit) break;
      out += kNoCharacter;
      from += unit;
      left -= unit;
    }
    return out;
  }

 private:
  iconv_t m_handle;
};

bool isUtf8(const std::string& bytes) {
  for (size_t i = 0; i < bytes.size();) {
    const uint8_t lead = byteAt(bytes, i);
    const size_t more = lead < 0x80                   ? 0
                        : lead >= 0xC2 && lead < 0xE0 ? 1
                        : lead >= 0xE0 && lead < 0xF0 ? 2
                        : lead >= 0xF0 && lead < 0xF5 ? 3
                                                      : 9;
    if (more == 9) return false;
    // A character cut at the very end of the file is a cut line, not another encoding.
    for (size_t k = 1; k <= more && i + k < bytes.size(); ++k) {
      if ((byteAt(bytes, i + k) & 0xC0) != 0x80) return false;
    }
    i += more + 1;
  }
  return true;
}

// UTF-16 without a mark: every other byte of plain text is zero.
int zeroSide(const std::string& bytes) {
  const size_t length = std::min<size_t>(bytes.size(), 400) & ~size_t{1};
  size_t even = 0, odd = 0;
  for (size_t i = 0; i + 1 < length; i += 2) {
    even += bytes[i] == '\0';
    odd += bytes[i + 1] == '\0';
  }
  const size_t most = length / 2 * 8 / 10;
  if (length < 8) return 0;
  return odd >= most && even == 0 ? 1 : even >= most && odd == 0 ? 2 : 0;
}

}  // namespace

Encoding detectEncoding(const std::string& head) {
  if (head.starts_with("\xFF\xFE") || head.starts_with("\xFE\xFF") || zeroSide(head) != 0) return Encoding::Utf16;
  const size_t last = head.find_last_not_of('\0');
  if (head.substr(0, last == std::string::npos ? 0 : last).find('\0') != std::string::npos) return Encoding::Binary;
  if (last == std::string::npos && !head.empty()) return Encoding::Binary;
  return isUtf8(head) ? Encoding::Utf8 : Encoding::Windows1252;
}

std::string fromWindows1252(std::string_view bytes) {
  Converter converter("WINDOWS-1252");
  return converter.isOpen() ? converter.toUtf8(bytes, 1) : asUtf8(std::string(bytes));
}

Result<std::string> toUtf8(const std::string& bytes, const std::string& where) {
  if (bytes.starts_with("\xEF\xBB\xBF")) return bytes.substr(3);
  switch (detectEncoding(bytes)) {
    case Encoding::Utf8:
      return bytes;
    case Encoding::Windows1252:
      return fromWindows1252(bytes);
    case Encoding::Utf16: {
      const bool hasMark = bytes.starts_with("\xFF\xFE") || bytes.starts_with("\xFE\xFF");
      const bool isBigEndian = hasMark ? bytes.starts_with("\xFE\xFF") : zeroSide(bytes) == 2;
      Converter converter(isBigEndian ? "UTF-16BE" : "UTF-16LE");
      if (!converter.isOpen())
        return Error::environment(
            fmt::format("{} is UTF-16, which this system cannot convert; save it as UTF-8.", where));
      return converter.toUtf8(std::string_view(bytes).substr(hasMark ? 2 : 0), 2);
    }
    case Encoding::Binary:
      break;
  }
  return Error::badInput(fmt::format("{} is a binary file, not a log; give a CSV file.", where));
}

}  // namespace ash
