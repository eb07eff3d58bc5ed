// SPDX-License-Identifier: GPL-3.0-or-later
// What stands beside a run, in a book that somebody else has written.
#include <SQLiteCpp/SQLiteCpp.h>

#include <catch2/catch.hpp>

#include "book/beside.h"
#include "book/book.h"
#include "book/run_import.h"
#include "tests/support/made_reading.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

// A run of ten moments a second apart; its id.
std::string addShortRun(const std::string& path) {
  REQUIRE(Book::openOrCreate(path));
  RunInfo info;
  info.study = info.setup = info.load = "x";
  auto run = RunImport::begin(path, info, {{"own", {readingCalled("cpu.temp")}, 0}});
  REQUIRE(run);
  for (int t = 0; t < 10; ++t) REQUIRE(run->addSweep(0, t, {40.0 + t}));
  REQUIRE(run->finish(info.started, 1, Outcome::TakenIn));
  return info.id;
}

void setExtra(const std::string& path, const std::string& extra) {
  SQLite::Database database(path, SQLite::OPEN_READWRITE);
  SQLite::Statement update(database, "UPDATE run SET extra = ?");
  update.bind(1, extra);
  update.exec();
}

}  // namespace

TEST_CASE("aLogBesideMakesARunNeitherLongerNorDenser") {
  const TempFolder folder;
  const std::string path = folder.path("b.ashbook"), id = addShortRun(path);
  const auto before = Book::open(path, BookAccess::ReadOnly)->run(id);
  BesideLog log;
  log.source = {"meter.csv", {readingCalled("wall.power")}, 0};
  log.columns.resize(1);
  for (int i = 0; i < 600; ++i) {
    log.timeS.push_back(-20 + i / 10.0);
    log.columns[0].push_back(i);
  }
  REQUIRE(putBeside(path, id, log));
  const auto after = Book::open(path, BookAccess::ReadOnly)->run(id);
  CHECK(after->sampleCount == before->sampleCount);
  CHECK(after->lastSampleS == before->lastSampleS);
  CHECK(after->samplesKey != before->samplesKey);  // figures have to be worked out anew
  CHECK(Book::open(path, BookAccess::ReadOnly)->readRun(id)->log.timeS.size() == 10);
}

TEST_CASE("whatAStrangersBookSaysOfLogsBesideIsNotBelievedBlindly") {
  const TempFolder folder;
  const std::string path = folder.path("b.ashbook"), id = addShortRun(path);
  for (const char* extra : {"no json", "{\"beside\": 3}", "{\"beside\": [3, {\"source\": 4}, null]}", "[]",
                            "{\"beside\": [{\"source\": \"other\"}]}"}) {
    setExtra(path, extra);
    INFO(extra);
    const auto book = Book::open(path, BookAccess::ReadOnly);
    REQUIRE(book->runs());
    CHECK(book->runs()->size() == 1);
    REQUIRE(book->readRun(id));
    CHECK(book->readRun(id)->log.timeS.size() == 10);
    CHECK_FALSE(takeOffBeside(path, id, "meter.csv"));
  }
  // It may even call the run's own samples a log beside: then there is no moment, and nothing else goes wrong.
  setExtra(path, "{\"beside\": [{\"source\": \"own\"}]}");
  const auto run = Book::open(path, BookAccess::ReadOnly)->readRun(id);
  REQUIRE(run);
  CHECK(run->log.timeS.empty());
}
