// SPDX-License-Identifier: GPL-3.0-or-later
// Rows read from a book's pages by our own reader, against the same book asked by SQLite.
#include "book/salvage_rows.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <algorithm>
#include <catch2/catch.hpp>

#include "book/book.h"
#include "book/run_writer.h"
#include "book/table_shapes.h"
#include "system/clock.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

std::string recordedBook(const TempFolder& folder) {
  const std::string path = folder.path("b.ashbook");
  {
    auto book = Book::create(path);
    REQUIRE(book);
    for (const char* setup : {"solid", "mesh"})
      REQUIRE(book->ensurePlace("s", {setup, Json::object(), {{"panel", setup}}, Json::object()},
                                {"vector", {{"kind", "vector"}}}));
  }
  Reading temperature;
  temperature.id = "chip/temp1";
  temperature.role = "cpu.temp";
  temperature.quantity = Quantity::Temperature;
  temperature.unit = "°C";
  for (const char* setup : {"solid", "mesh", "mesh"}) {
    RunInfo info;
    info.study = "s";
    info.setup = setup;
    info.load = "vector";
    info.started = isoTimeNow();
    auto writer = RunWriter::begin(path, info, {{"chip", {temperature}}});
    REQUIRE(writer);
    writer->beginPhase(PhaseKind::Idle, 0);
    for (int i = 0; i < 3000; ++i) writer->addSweep(0, i * 0.5, {40.0 + i % 7});
    writer->addEvent({3.5, EventKind::Note, std::string(6000, 'x'), "", kMissing, kMissing, Json::object()});
    writer->endPhase(1500);
    REQUIRE(writer->finish(Outcome::Completed, ""));
  }
  return path;
}

long long countIn(const std::string& path, const std::string& table) {
  SQLite::Database database(path, SQLite::OPEN_READONLY);
  return database.execAndGet("SELECT count(*) FROM " + table).getInt64();
}

}  // namespace

TEST_CASE("everyRowThatSqliteHasIsFoundInThePages") {
  const TempFolder folder;
  const std::string path = recordedBook(folder);
  const auto pages = SqlitePages::open(path);
  REQUIRE(pages);
  const salvage::Found found = salvage::findRows(*pages);
  CHECK(found.unreadable == 0);
  CHECK(found.unknown == 0);
  const auto count = [](const auto& rows) { return static_cast<long long>(rows.size()); };
  CHECK(count(found.studies) == countIn(path, "study"));
  CHECK(count(found.setups) == countIn(path, "setup"));
  CHECK(count(found.loads) == countIn(path, "load"));
  CHECK(count(found.events) == countIn(path, "event"));
  CHECK(count(found.runs) == countIn(path, "run"));
  CHECK(count(found.sources) == countIn(path, "source"));
  CHECK(count(found.readings) == countIn(path, "reading"));
  CHECK(count(found.phases) == countIn(path, "phase"));
  long long blocks = 0, sweeps = 0;
  for (const auto& [source, places] : found.blocks) {
    for (const salvage::BlockPlace& block : places) {
      CHECK(block.isWhole);
      CHECK(block.columns == 1);
      CHECK(block.firstS <= block.lastS);
      ++blocks;
      sweeps += block.sweeps;
    }
  }
  CHECK(blocks == countIn(path, "block"));
  CHECK(sweeps == 9000);
  // A text longer than a page goes on over others and comes back whole.
  for (const auto& [id, row] : found.events) {
    const bool isLong = std::any_of(row.begin(), row.end(), [](const SqliteValue& value) {
      return salvage::isText(value) && salvage::textOf(value) == std::string(6000, 'x');
    });
    CHECK(isLong);
  }
}

TEST_CASE("everyTableOfABookHasAShape") {
  const auto shapes = bookShapes();
  const TempFolder folder;
  const std::string path = recordedBook(folder);
  SQLite::Database database(path, SQLite::OPEN_READONLY);
  SQLite::Statement tables(database,
                           "SELECT name, ncol FROM pragma_table_list WHERE type = 'table' AND schema = 'main' "
                           "AND name NOT LIKE 'sqlite_%'");
  size_t known = 0;
  while (tables.executeStep()) {
    const std::string name = tables.getColumn(0).getString();
    INFO(name);
    const auto shape =
        std::find_if(shapes.begin(), shapes.end(), [&](const TableShape& one) { return one.name == name; });
    REQUIRE(shape != shapes.end());
    CHECK(static_cast<int>(shape->columns.size()) == tables.getColumn(1).getInt());
    for (const ColumnShape& column : shape->columns) CHECK(column.kind != '?');
    ++known;
  }
  CHECK(known == shapes.size());
}
