// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/table_shapes.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <string_view>

#include "book/book_format.h"

namespace ash {
namespace {

char kindOfType(std::string_view type) {
  constexpr std::array<std::pair<std::string_view, char>, 4> kKinds = {
      {{"TEXT", 't'}, {"INTEGER", 'i'}, {"REAL", 'n'}, {"BLOB", 'b'}}};
  const auto found = std::find_if(kKinds.begin(), kKinds.end(), [&](const auto& kind) { return kind.first == type; });
  return found == kKinds.end() ? '?' : found->second;
}

// https://www.sqlite.org/pragma.html#pragma_table_info
TableShape readShape(SQLite::Database& database, const std::string& table, bool hasRowId) {
  TableShape shape{table, hasRowId, {}};
  int keys = 0;
  SQLite::Statement columns(database, fmt::format("SELECT type, \"notnull\", pk FROM pragma_table_info('{}')", table));
  while (columns.executeStep()) {
    const bool isKey = columns.getColumn(2).getInt() > 0;
    keys += isKey;
    shape.columns.push_back(
        {kindOfType(columns.getColumn(0).getString()), columns.getColumn(1).getInt() == 0 && !isKey});
  }
  columns.reset();
  // A single integer key is the row's number: the record holds NULL for it (fileformat2.html, 2.4).
  columns.executeStep();
  const bool isFirstKey = columns.getColumn(2).getInt() == 1;
  if (hasRowId && keys == 1 && isFirstKey && shape.columns.front().kind == 'i') shape.columns.front() = {'0', true};
  return shape;
}

}  // namespace

std::vector<TableShape> bookShapes() {
  SQLite::Database database(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
  for (const std::string_view migration : kMigrations) database.exec(std::string(migration));
  std::vector<TableShape> shapes;
  SQLite::Statement tables(database,
                           "SELECT name, wr FROM pragma_table_list WHERE type = 'table' AND name NOT LIKE "
                           "'sqlite_%' AND schema = 'main'");
  while (tables.executeStep())
    shapes.push_back(readShape(database, tables.getColumn(0).getString(), tables.getColumn(1).getInt() == 0));
  std::stable_sort(shapes.begin(), shapes.end(),
                   [](const TableShape& a, const TableShape& b) { return a.columns.size() > b.columns.size(); });
  return shapes;
}

}  // namespace ash
