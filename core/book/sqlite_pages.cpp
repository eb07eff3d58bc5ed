// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/sqlite_pages.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <bit>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <optional>

namespace ash {
namespace {

constexpr uint64_t kLongestPayload = 256 * 1024 * 1024;
constexpr uint64_t kChainsOfFile = 16;  // so many times the file itself may be read through chains of pages
constexpr uint8_t kTableLeaf = 0x0D, kIndexLeaf = 0x0A, kIndexInterior = 0x02;

uint32_t bigEndian(const std::string& bytes, size_t at, size_t length) {
  uint32_t value = 0;
  for (size_t i = 0; i < length; ++i)
    value = (value << 8) | (at + i < bytes.size() ? static_cast<uint8_t>(bytes[at + i]) : 0u);
  return value;
}

uint32_t littleEndian(const std::string& bytes, size_t at) { return __builtin_bswap32(bigEndian(bytes, at, 4)); }

// A varint at `at`, which is moved past it; empty at the end of the bytes.
std::optional<uint64_t> takeVarint(const std::string& bytes, size_t& at) {
  uint64_t value = 0;
  for (int i = 0; i < 9; ++i) {
    if (at >= bytes.size()) return std::nullopt;
    const auto byte = static_cast<uint8_t>(bytes[at++]);
    if (i == 8) return (value << 8) | byte;
    value = (value << 7) | (byte & 0x7F);
    if ((byte & 0x80) == 0) return value;
  }
  return std::nullopt;
}

int64_t signedInteger(const std::string& bytes, size_t at, size_t length) {
  uint64_t value = (static_cast<uint8_t>(bytes[at]) & 0x80) != 0 ? ~uint64_t{0} : 0;
  for (size_t i = 0; i < length; ++i) value = (value << 8) | static_cast<uint8_t>(bytes[at + i]);
  return static_cast<int64_t>(value);
}

// Size of a value of a serial type; section 2.1.
uint64_t sizeOfType(uint64_t type) {
  constexpr uint64_t kSizes[] = {0, 1, 2, 3, 4, 6, 8, 8, 0, 0, 0, 0};
  return type < 12 ? kSizes[type] : (type - 12) / 2;
}

SqliteValue valueOfType(uint64_t type, const std::string& bytes, size_t at) {
  const auto size = static_cast<size_t>(sizeOfType(type));
  if (type == 0) return std::monostate();
  if (type == 8 || type == 9) return static_cast<int64_t>(type - 8);
  if (type == 7) return std::bit_cast<double>(signedInteger(bytes, at, 8));
  if (type <= 6) return signedInteger(bytes, at, size);
  if (type % 2 == 0) return SqliteBlob{bytes.substr(at, size)};
  return bytes.substr(at, size);
}

// The log's checksum over 8-byte steps; section 4.2.
void addToChecksum(const std::string& bytes, size_t from, size_t to, bool isBig, uint32_t& s1, uint32_t& s2) {
  for (size_t at = from; at + 8 <= to; at += 8) {
    s1 += (isBig ? bigEndian(bytes, at, 4) : littleEndian(bytes, at)) + s2;
    s2 += (isBig ? bigEndian(bytes, at + 4, 4) : littleEndian(bytes, at + 4)) + s1;
  }
}

size_t headerAt(uint32_t page) { return page == 1 ? 100 : 0; }

}  // namespace

struct SqlitePages::File {
  int descriptor = -1;
  File() = default;
  File(const File&) = delete;
  File& operator=(const File&) = delete;
  ~File() {
    if (descriptor >= 0) close(descriptor);
  }
};

std::vector<SqliteValue> decodeSqliteRecord(const std::string& payload) {
  size_t at = 0;
  const auto headerSize = takeVarint(payload, at);
  if (!headerSize || *headerSize > payload.size()) return {};
  std::vector<uint64_t> types;
  while (at < *headerSize) {
    const auto type = takeVarint(payload, at);
    if (!type || *type == 10 || *type == 11) return {};
    types.push_back(*type);
  }
  if (at != *headerSize) return {};
  std::vector<SqliteValue> values;
  for (const uint64_t type : types) {
    const uint64_t size = sizeOfType(type);
    if (size > payload.size() - at) return {};
    values.push_back(valueOfType(type, payload, at));
    at += static_cast<size_t>(size);
  }
  return values;
}

Result<SqlitePages> SqlitePages::open(const std::string& path) {
  auto file = std::make_shared<File>();
  file->descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
  struct stat info {};
  if (file->descriptor < 0 || fstat(file->descriptor, &info) != 0) return Error::io("read", path, errno);
  if (!S_ISREG(info.st_mode)) return Error::badInput(path + " is no file, and so no book.");
  SqlitePages pages(std::move(file));
  std::string header(100, '\0');
  if (pread(pages.m_file->descriptor, header.data(), header.size(), 0) != static_cast<ssize_t>(header.size()))
    return Error::badInput(path + " is too short to be a book.");
  const uint32_t told = bigEndian(header, 16, 2);
  // 1 stands for 65536. A size that is none (the header itself is damaged) leaves the one that books are made with.
  const bool isSize = told == 1 || (told >= 512 && std::has_single_bit(told));
  if (isSize) pages.m_pageSize = told == 1 ? 65536 : told;
  const auto reserved = static_cast<uint8_t>(header[20]);
  pages.m_usable = pages.m_pageSize - (isSize && reserved < 32 ? reserved : 0);
  pages.m_pageCount = static_cast<uint32_t>(info.st_size / pages.m_pageSize);
  pages.readLog(path + "-wal");
  pages.m_chainB = kChainsOfFile * (static_cast<uint64_t>(pages.m_pageCount) + 16) * pages.m_pageSize;
  pages.findFreePages();
  return pages;
}

std::string SqlitePages::page(uint32_t number) const {
  if (const auto logged = m_logged.find(number); logged != m_logged.end()) return logged->second;
  std::string bytes(m_pageSize, '\0');
  const auto offset = static_cast<off_t>(number - 1) * static_cast<off_t>(m_pageSize);
  if (number == 0 || pread(m_file->descriptor, bytes.data(), bytes.size(), offset) != static_cast<ssize_t>(m_pageSize))
    return {};
  return bytes;
}

// Frames count up to the last one that closes a transaction, as long as the chain of checksums holds.
void SqlitePages::readLog(const std::string& path) {
  struct stat info {};
  if (stat(path.c_str(), &info) != 0 || !S_ISREG(info.st_mode)) return;
  std::ifstream file(path, std::ios::binary);
  std::string header(32, '\0');
  // No page can lie beyond all that both files hold, whatever a frame says.
  const auto mostPages = m_pageCount + static_cast<uint32_t>(info.st_size / m_pageSize);
  if (!file.read(header.data(), 32)) return;
  const uint32_t magic = bigEndian(header, 0, 4);
  if ((magic & ~1u) != 0x377f0682u || bigEndian(header, 8, 4) != m_pageSize) return;
  const bool isBig = (magic & 1) != 0;
  uint32_t s1 = 0, s2 = 0;
  addToChecksum(header, 0, 24, isBig, s1, s2);
  if (s1 != bigEndian(header, 24, 4) || s2 != bigEndian(header, 28, 4)) return;
  std::map<uint32_t, std::string> open;
  std::string frame(24 + m_pageSize, '\0');
  while (file.read(frame.data(), static_cast<std::streamsize>(frame.size()))) {
    if (frame.compare(8, 8, header, 16, 8) != 0) break;
    addToChecksum(frame, 0, 8, isBig, s1, s2);
    addToChecksum(frame, 24, frame.size(), isBig, s1, s2);
    if (s1 != bigEndian(frame, 16, 4) || s2 != bigEndian(frame, 20, 4)) break;
    if (const uint32_t number = bigEndian(frame, 0, 4); number <= mostPages) open[number] = frame.substr(24);
    const uint32_t sizeAfter = bigEndian(frame, 4, 4);
    if (sizeAfter == 0) continue;
    for (auto& [number, bytes] : open) m_logged[number] = std::move(bytes);
    open.clear();
    m_pageCount = std::max(m_pageCount, std::min(sizeAfter, mostPages));
  }
}

void SqlitePages::findFreePages() {
  const std::string first = page(1);
  for (uint32_t trunk = bigEndian(first, 32, 4); trunk != 0 && trunk <= m_pageCount && m_free.insert(trunk).second;) {
    const std::string bytes = page(trunk);
    const uint32_t count = std::min(bigEndian(bytes, 4, 4), m_usable / 4 - 2);
    for (uint32_t i = 0; i < count; ++i) m_free.insert(bigEndian(bytes, 8 + 4 * static_cast<size_t>(i), 4));
    trunk = bigEndian(bytes, 0, 4);
  }
}

int SqlitePages::cellCount(uint32_t number) const {
  const std::string bytes = page(number);
  const size_t header = headerAt(number);
  if (bytes.empty()) return 0;
  const auto type = static_cast<uint8_t>(bytes[header]);
  if (type != kTableLeaf && type != kIndexLeaf && type != kIndexInterior) return 0;
  const uint32_t count = bigEndian(bytes, header + 3, 2);
  return count <= m_usable / 4 ? static_cast<int>(count) : 0;
}

// Section 1.6: how much of a payload stands in the page, and the chain of pages with the rest.
std::string SqlitePages::payload(const std::string& bytes, size_t at, uint64_t size, bool isTable) const {
  if (size > kLongestPayload || size > static_cast<uint64_t>(m_pageCount) * m_pageSize) return {};
  const uint64_t usable = m_usable;
  const uint64_t most = isTable ? usable - 35 : (usable - 12) * 64 / 255 - 23;
  const uint64_t least = (usable - 12) * 32 / 255 - 23;
  uint64_t local = size;
  if (size > most) {
    const uint64_t k = least + (size - least) % (usable - 4);
    local = k <= most ? k : least;
  }
  if (at + local > bytes.size()) return {};
  std::string all = bytes.substr(at, static_cast<size_t>(local));
  if (local == size) return all;
  const std::string rest =
      overflow(bigEndian(bytes, at + static_cast<size_t>(local), 4), static_cast<size_t>(size - local));
  return rest.empty() ? std::string() : all + rest;
}

// A chain of pages; empty when it ends too soon, leaves the file or comes back to itself.
std::string SqlitePages::overflow(uint32_t next, size_t size) const {
  std::string all;
  std::set<uint32_t> seen;
  while (all.size() < size) {
    const bool isPage = next > 1 && next <= m_pageCount && seen.insert(next).second && m_chainB >= m_pageSize;
    const std::string more = isPage ? page(next) : std::string();
    if (more.empty()) return {};
    m_chainB -= m_pageSize;
    all.append(more, 4, std::min<size_t>(m_usable - 4, size - all.size()));
    next = bigEndian(more, 0, 4);
  }
  return all;
}

SqliteRow SqlitePages::row(CellPlace place) const {
  const std::string bytes = page(place.page);
  const size_t header = headerAt(place.page);
  if (bytes.empty()) return {};
  const auto type = static_cast<uint8_t>(bytes[header]);
  const bool isInterior = type == kIndexInterior;
  const size_t pointers = header + (isInterior ? 12 : 8);
  size_t at = bigEndian(bytes, pointers + 2 * static_cast<size_t>(place.cell), 2);
  if (at < pointers || at >= bytes.size()) return {};
  if (isInterior) at += 4;
  const auto size = takeVarint(bytes, at);
  SqliteRow row;
  row.hasRowId = type == kTableLeaf;
  const auto rowId = row.hasRowId ? takeVarint(bytes, at) : std::optional<uint64_t>(0);
  if (!size || !rowId) return {};
  row.rowId = static_cast<int64_t>(*rowId);
  row.values = decodeSqliteRecord(payload(bytes, at, *size, row.hasRowId));
  return row;
}

}  // namespace ash
