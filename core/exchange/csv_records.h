// SPDX-License-Identifier: GPL-3.0-or-later
// Records of a CSV file, read in pieces so that the whole file never stands in memory.
#pragma once

#include <cstdio>
#include <memory>
#include <string>
#include <string_view>

namespace ash {

/// Where the bytes come from: a file, or a text in memory.
class ByteSource {
 public:
  virtual ~ByteSource() = default;
  /// Fills up to `size` bytes; 0 at the end.
  virtual size_t read(char* to, size_t size) = 0;
};

class TextSource : public ByteSource {
 public:
  explicit TextSource(std::string_view text) : m_left(text) {}
  size_t read(char* to, size_t size) override;

 private:
  std::string_view m_left;
};

class FileSource : public ByteSource {
 public:
  /// Empty when the file cannot be opened (errno tells why).
  static std::unique_ptr<FileSource> open(const std::string& path);
  size_t read(char* to, size_t size) override;

 private:
  struct Close {
    void operator()(std::FILE* file) const { std::fclose(file); }
  };
  std::unique_ptr<std::FILE, Close> m_file;
};

/// Hands out one record after the other. A record ends with LF, CR or CR LF outside quotes; blank lines are left out.
class CsvRecords {
 public:
  explicit CsvRecords(ByteSource& source);

  /// The first bytes of the file, up to 64 KiB; before the first next().
  std::string_view head();
  /// What has been read ahead and not been handed out.
  std::string_view ahead() const { return std::string_view(m_buffer).substr(m_at); }
  /// Leaves `count` bytes at the beginning out (a byte-order mark).
  void skip(size_t count) { m_at += count; }

  /// False at the end. The record stands until the next call.
  bool next(std::string_view& record);
  size_t line() const { return m_recordLine; }  ///< where the record starts, from 1
  /// The file ended within the record: without an end of line, or inside quotes on its last line.
  bool isOpen() const { return m_isOpen; }
  bool isInsideQuotes() const { return m_isInsideQuotes; }
  bool hasQuotes() const { return m_hasQuotes; }  ///< the record holds quotes

 private:
  bool fill();
  size_t findEnd(size_t from);

  ByteSource& m_source;
  std::string m_buffer;
  size_t m_at = 0, m_line = 1, m_recordLine = 0;
  bool m_isAtEnd = false, m_isOpen = false, m_isInsideQuotes = false, m_hasQuotes = false;
};

}  // namespace ash
