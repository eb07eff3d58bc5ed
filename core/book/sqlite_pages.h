// SPDX-License-Identifier: GPL-3.0-or-later
// Rows out of the pages of a damaged SQLite file, without its trees. Source: the SQLite file format,
// https://www.sqlite.org/fileformat2.html (sections 1.3, 1.5 to 2.1 and 4).
#pragma once

#include <compare>
#include <cstdint>
#include <map>
#include <memory>
#include <set>
#include <string>
#include <variant>
#include <vector>

#include "model/result.h"

namespace ash {

struct SqliteBlob {
  std::string bytes;
  auto operator<=>(const SqliteBlob&) const = default;  // NOLINT(modernize-use-nullptr): it takes the sign for a 0
};
/// NULL, an integer, a real, a text, a blob.
using SqliteValue = std::variant<std::monostate, int64_t, double, std::string, SqliteBlob>;

/// Where a row stands: to read it again.
struct CellPlace {
  uint32_t page = 0;
  int cell = 0;
};

struct SqliteRow {
  int64_t rowId = 0;  ///< 0 for rows of WITHOUT ROWID tables and indexes
  bool hasRowId = false;
  std::vector<SqliteValue> values;
};

/// A database file with the committed part of its write-ahead log laid over it. Reading only; time and memory are
/// bounded by the size of the two files, whatever stands in them.
class SqlitePages {
 public:
  static Result<SqlitePages> open(const std::string& path);

  uint32_t pageCount() const { return m_pageCount; }
  /// Pages whose content was deleted; old rows may still stand in them.
  const std::set<uint32_t>& freePages() const { return m_free; }
  /// How many rows a page holds: 0 for anything but a leaf of a table or a page of an index.
  int cellCount(uint32_t page) const;
  /// A row; empty values when it cannot be read.
  SqliteRow row(CellPlace place) const;

 private:
  struct File;
  explicit SqlitePages(std::shared_ptr<File> file) : m_file(std::move(file)) {}
  std::string page(uint32_t number) const;
  void readLog(const std::string& path);
  void findFreePages();
  std::string payload(const std::string& page, size_t at, uint64_t size, bool isTable) const;
  std::string overflow(uint32_t first, size_t size) const;

  std::shared_ptr<File> m_file;
  uint32_t m_pageSize = 4096;
  uint32_t m_usable = 4096;
  uint32_t m_pageCount = 0;
  std::map<uint32_t, std::string> m_logged;  // pages whose newest content is in the log
  std::set<uint32_t> m_free;
  /// Bytes that chains of pages may still give: rows of a crafted file can all point to the same long chain.
  mutable uint64_t m_chainB = 0;
};

/// A record as values; empty when it is none.
std::vector<SqliteValue> decodeSqliteRecord(const std::string& payload);

}  // namespace ash
