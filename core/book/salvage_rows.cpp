// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/salvage_rows.h"

#include <string_view>

#include "book/block_codec.h"
#include "book/table_shapes.h"

namespace ash::salvage {

bool isText(const SqliteValue& value) { return std::holds_alternative<std::string>(value); }
bool isInteger(const SqliteValue& value) { return std::holds_alternative<int64_t>(value); }
bool isBlob(const SqliteValue& value) { return std::holds_alternative<SqliteBlob>(value); }
bool isNull(const SqliteValue& value) { return std::holds_alternative<std::monostate>(value); }
bool isNumber(const SqliteValue& value) { return isInteger(value) || std::holds_alternative<double>(value); }

const std::string& textOf(const SqliteValue& value) { return std::get<std::string>(value); }
int64_t integerOf(const SqliteValue& value) { return std::get<int64_t>(value); }
double numberOf(const SqliteValue& value) {
  return isInteger(value) ? static_cast<double>(integerOf(value)) : std::get<double>(value);
}

namespace {

bool isRowIdColumn(char kind) { return kind == '0'; }

bool fits(const ColumnShape& column, const SqliteValue& value) {
  if (isRowIdColumn(column.kind)) return isNull(value);
  if (isNull(value)) return column.mayBeNull;
  switch (column.kind) {
    case 't':
      return isText(value);
    case 'i':
      return isInteger(value);
    case 'n':
      return isNumber(value);
    case 'b':
      return isBlob(value);
    default:
      return true;
  }
}

const TableShape* shapeOf(const SqliteRow& row, const std::vector<TableShape>& shapes) {
  for (const TableShape& shape : shapes) {
    if (shape.hasRowId != row.hasRowId || row.values.size() != shape.columns.size()) continue;
    bool isAlike = true;
    for (size_t i = 0; i < shape.columns.size() && isAlike; ++i) isAlike = fits(shape.columns[i], row.values[i]);
    if (isAlike) return &shape;
  }
  return nullptr;
}

// Rows that SQLite keeps for itself: the schema (type, name, table, root page, text) and what it counts.
bool isOfSqlite(const Values& values) {
  if (values.size() == 5) return isText(values[0]) && isText(values[1]) && isText(values[2]) && isInteger(values[3]);
  return values.size() == 2 && isText(values[0]) && isInteger(values[1]);
}

BlockPlace describeBlock(const Values& values, CellPlace place) {
  BlockPlace block{place, integerOf(values[2]), numberOf(values[3]), numberOf(values[4]), integerOf(values[5])};
  const std::string& times = std::get<SqliteBlob>(values[6]).bytes;
  const std::string& samples = std::get<SqliteBlob>(values[7]).bytes;
  const auto sweeps = static_cast<size_t>(std::max<int64_t>(0, block.sweeps));
  block.isWhole = sweeps > 0 && times.size() == sweeps * sizeof(double) && samples.size() % times.size() == 0 &&
                  static_cast<int64_t>(blockChecksum(times.data(), times.size(), samples.data(), samples.size())) ==
                      integerOf(values[8]);
  if (block.isWhole) block.columns = static_cast<int64_t>(samples.size() / times.size());
  return block;
}

using Keeper = void (*)(Found&, SqliteRow&&, CellPlace);

// Where the rows of a table go; those of the others hang on nothing.
const std::map<std::string_view, Keeper>& keepers() {
  static const std::map<std::string_view, Keeper> kKeepers = {
      {"study", [](Found& found, SqliteRow&& row, CellPlace) { found.studies[row.rowId] = std::move(row.values); }},
      {"setup", [](Found& found, SqliteRow&& row, CellPlace) { found.setups[row.rowId] = std::move(row.values); }},
      {"load", [](Found& found, SqliteRow&& row, CellPlace) { found.loads[row.rowId] = std::move(row.values); }},
      {"event", [](Found& found, SqliteRow&& row, CellPlace) { found.events[row.rowId] = std::move(row.values); }},
      {"run",
       [](Found& found, SqliteRow&& row, CellPlace) {
         const std::string id = textOf(row.values[0]);
         found.runs[id] = std::move(row.values);
       }},
      {"source",
       [](Found& found, SqliteRow&& row, CellPlace) {
         const Values& v = row.values;
         found.sources[{textOf(v[0]), integerOf(v[1])}] = textOf(v[2]);
       }},
      {"reading",
       [](Found& found, SqliteRow&& row, CellPlace) {
         const std::tuple key(textOf(row.values[0]), integerOf(row.values[1]), integerOf(row.values[2]));
         found.readings[key] = std::move(row.values);
       }},
      {"phase",
       [](Found& found, SqliteRow&& row, CellPlace) {
         const std::pair key(textOf(row.values[0]), integerOf(row.values[1]));
         found.phases[key] = std::move(row.values);
       }},
      {"attachment",
       [](Found& found, SqliteRow&& row, CellPlace place) {
         const SqliteValue &run = row.values[1], &setup = row.values[2];
         found.attachments[row.rowId] = {place, isText(run) ? textOf(run) : "",
                                         isInteger(setup) ? integerOf(setup) : 0};
       }},
      {"block", [](Found& found, SqliteRow&& row, CellPlace place) {
         const Values& v = row.values;
         found.blocks[{textOf(v[0]), integerOf(v[1])}].push_back(describeBlock(v, place));
       }}};
  return kKeepers;
}

void keep(SqliteRow&& row, const std::string& table, CellPlace place, Found& found) {
  const auto keeper = keepers().find(table);
  if (keeper == keepers().end())
    found.others[table].insert(std::move(row.values));
  else
    keeper->second(found, std::move(row), place);
}

}  // namespace

Found findRows(const SqlitePages& pages) {
  const std::vector<TableShape> shapes = bookShapes();
  Found found;
  for (uint32_t page = 1; page <= pages.pageCount(); ++page) {
    if (pages.freePages().contains(page)) continue;
    const int count = pages.cellCount(page);
    for (int cell = 0; cell < count; ++cell) {
      SqliteRow row = pages.row({page, cell});
      if (row.values.empty()) {
        ++found.unreadable;
        continue;
      }
      const TableShape* shape = shapeOf(row, shapes);
      if (shape != nullptr)
        keep(std::move(row), shape->name, {page, cell}, found);
      else if (row.hasRowId && !isOfSqlite(row.values))
        ++found.unknown;  // indexes have no row ids
    }
  }
  return found;
}

}  // namespace ash::salvage
