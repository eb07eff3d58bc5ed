// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_records.h"

#include <algorithm>
#include <cstring>

namespace ash {
namespace {

constexpr size_t kPiece = 256 * 1024;
constexpr size_t kHead = 64 * 1024;
constexpr size_t kLongestRecord = 4 * 1024 * 1024;  // what is longer is a quote that was never closed

}  // namespace

size_t TextSource::read(char* to, size_t size) {
  const size_t count = std::min(size, m_left.size());
  std::memcpy(to, m_left.data(), count);
  m_left.remove_prefix(count);
  return count;
}

std::unique_ptr<FileSource> FileSource::open(const std::string& path) {
  std::FILE* file = std::fopen(path.c_str(), "rb");
  if (file == nullptr) return nullptr;
  auto source = std::make_unique<FileSource>();
  source->m_file.reset(file);
  std::setvbuf(file, nullptr, _IONBF, 0);
  return source;
}

size_t FileSource::read(char* to, size_t size) { return std::fread(to, 1, size, m_file.get()); }

CsvRecords::CsvRecords(ByteSource& source) : m_source(source) {}

// Drops what has been handed out and reads on. False at the end of the file.
bool CsvRecords::fill() {
  if (m_isAtEnd) return false;
  m_buffer.erase(0, m_at);
  m_at = 0;
  const size_t had = m_buffer.size();
  m_buffer.resize(had + kPiece);
  const size_t got = m_source.read(m_buffer.data() + had, kPiece);
  m_buffer.resize(had + got);
  m_isAtEnd = got == 0;
  return got > 0;
}

std::string_view CsvRecords::head() {
  while (m_buffer.size() < kHead && fill()) {
  }
  return std::string_view(m_buffer).substr(0, kHead);
}

// Place of the end of line of the record that starts at `from`, or npos while more must be read.
size_t CsvRecords::findEnd(size_t from) {
  const char* const begin = m_buffer.data() + from;
  const size_t size = m_buffer.size() - from;
  const auto* feed = static_cast<const char*>(std::memchr(begin, '\n', size));
  const size_t plain = feed == nullptr ? size : static_cast<size_t>(feed - begin);
  const auto* back = static_cast<const char*>(std::memchr(begin, '\r', plain));
  const size_t length = back == nullptr ? plain : static_cast<size_t>(back - begin);
  m_hasQuotes = std::memchr(begin, '"', length) != nullptr;
  if (!m_hasQuotes) return length == size ? std::string::npos : from + length;
  bool isQuoted = false;
  for (size_t i = 0; i < size; ++i) {
    if (begin[i] == '"') isQuoted = !isQuoted;
    if (!isQuoted && (begin[i] == '\n' || begin[i] == '\r')) return from + i;
  }
  m_isInsideQuotes = isQuoted;
  return std::string::npos;
}

bool CsvRecords::next(std::string_view& record) {
  while (true) {
    m_isInsideQuotes = false;
    size_t end = findEnd(m_at);
    while (end == std::string::npos && m_buffer.size() - m_at < kLongestRecord && fill()) end = findEnd(m_at);
    // A quote that was never closed is one of the text: it must not swallow the rest of the file.
    if (end == std::string::npos && m_isInsideQuotes) end = m_buffer.find_first_of("\r\n", m_at);
    m_isOpen = end == std::string::npos;
    if (m_isOpen) end = m_buffer.size();
    if (m_isOpen && m_at >= m_buffer.size()) return false;
    // A CR at the very end of a piece may have its LF in the next one.
    if (!m_isOpen && m_buffer[end] == '\r' && end + 1 == m_buffer.size()) {
      const size_t length = end - m_at;
      fill();
      end = m_at + length;
    }
    record = std::string_view(m_buffer).substr(m_at, end - m_at);
    m_recordLine = m_line;
    m_at = std::min(end + 1, m_buffer.size());
    if (!m_isOpen && m_buffer[end] == '\r' && m_at < m_buffer.size() && m_buffer[m_at] == '\n') ++m_at;
    ++m_line;
    if (m_hasQuotes) m_line += static_cast<size_t>(std::count(record.begin(), record.end(), '\n'));
    const bool isBlank = record.find_first_not_of(" \t") == std::string_view::npos;
    if (!isBlank) return true;
    if (m_isOpen) return false;
  }
}

}  // namespace ash
