// SPDX-License-Identifier: GPL-3.0-or-later
// The shapes by which rows are known without their table are those of a real book's tables.
#include "book/table_shapes.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <catch2/catch.hpp>
#include <map>

#include "book/book.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

const TableShape& shapeOf(const std::vector<TableShape>& shapes, const std::string& name) {
  for (const TableShape& shape : shapes) {
    if (shape.name == name) return shape;
  }
  FAIL("no shape of " << name);
  return shapes.front();
}

std::string kinds(const TableShape& shape) {
  std::string all;
  for (const ColumnShape& column : shape.columns) all += column.kind;
  return all;
}

}  // namespace

TEST_CASE("everyTableOfABookHasAShapeWithAsManyColumns") {
  const tests::TempFolder folder;
  REQUIRE(Book::create(folder.path("b.ashbook")));
  SQLite::Database database(folder.path("b.ashbook"), SQLite::OPEN_READONLY);
  std::map<std::string, size_t> tables;
  SQLite::Statement names(database, "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'");
  while (names.executeStep()) {
    const std::string name = names.getColumn(0).getString();
    SQLite::Statement rows(database, "SELECT * FROM \"" + name + "\"");
    tables[name] = static_cast<size_t>(rows.getColumnCount());
  }
  const auto shapes = bookShapes();
  CHECK(shapes.size() == tables.size());
  for (const auto& [name, columns] : tables) CHECK(shapeOf(shapes, name).columns.size() == columns);
  // A row that fits two is the wider one's: what is missing at its end is NULL only where it may be.
  for (size_t i = 1; i < shapes.size(); ++i) CHECK(shapes[i - 1].columns.size() >= shapes[i].columns.size());
}

TEST_CASE("aShapeTellsKindsNumbersOfRowsAndWhatMayBeMissing") {
  // docs/book-format.md: setup (id, study, name, parts, conditions, levels).
  const auto shapes = bookShapes();
  const TableShape& setup = shapeOf(shapes, "setup");
  CHECK(setup.hasRowId);
  CHECK(kinds(setup) == "0itttt");
  CHECK(setup.columns[0].mayBeNull);  // the row's own number stands outside the record
  for (size_t i = 1; i < setup.columns.size(); ++i) CHECK_FALSE(setup.columns[i].mayBeNull);
}

TEST_CASE("aRealRowIsOfTheShapeOfItsTable") {
  const tests::TempFolder folder;
  {
    auto book = Book::create(folder.path("b.ashbook"));
    REQUIRE(book);
    Study study;
    study.name = "s";
    study.setups.emplace_back();
    study.setups.back().name = "Mesh";
    REQUIRE(book->putStudy({}, study));
  }
  SQLite::Database database(folder.path("b.ashbook"), SQLite::OPEN_READONLY);
  const auto shapes = bookShapes();
  for (const char* table : {"study", "setup"}) {
    SQLite::Statement row(database, std::string("SELECT * FROM ") + table);
    REQUIRE(row.executeStep());
    const TableShape& shape = shapeOf(shapes, table);
    REQUIRE(static_cast<size_t>(row.getColumnCount()) == shape.columns.size());
    for (int i = 0; i < row.getColumnCount(); ++i) {
      const SQLite::Column column = row.getColumn(i);
      const char kind = shape.columns[static_cast<size_t>(i)].kind;
      if (column.isText()) CHECK(kind == 't');
      if (column.isInteger()) CHECK((kind == 'i' || kind == '0'));
      if (column.isBlob()) CHECK(kind == 'b');
    }
  }
}
