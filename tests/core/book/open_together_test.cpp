// SPDX-License-Identifier: GPL-3.0-or-later
// One book, several who have it open: window, recorder, somebody who has it to himself for a moment. And what a run is
// found by.
#include <SQLiteCpp/SQLiteCpp.h>

#include <catch2/catch.hpp>
#include <thread>

#include "book/book.h"
#include "book/run_writer.h"
#include "system/clock.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

std::vector<SourceInfo> oneReading() {
  Reading temperature;
  temperature.id = "chip/temp1";
  temperature.role = "cpu.temp";
  temperature.quantity = Quantity::Temperature;
  temperature.unit = "°C";
  return {{"chip", {temperature}}};
}

RunInfo sharedRun(const std::string& load = "vector") {
  RunInfo info;
  info.study = "s";
  info.setup = "solid";
  info.load = load;
  info.started = isoTimeNow();
  info.procedure = *parsePhases("idle 10s");
  info.watched = "cpu.temp";
  return info;
}

std::string sharedBook(const TempFolder& folder, const std::string& load = "vector",
                       const std::string& kind = "vector") {
  const std::string path = folder.path("b.ashbook");
  auto book = Book::create(path);
  REQUIRE(book);
  REQUIRE(book->ensurePlace("s", {"solid", Json::object(), Json::object(), Json::object()}, {load, {{"kind", kind}}}));
  return path;
}

}  // namespace

TEST_CASE("windowAndRecorderMayHaveTheBookOpenAtOnce") {
  const TempFolder folder;
  const std::string path = sharedBook(folder);
  RunInfo info = sharedRun();
  auto writer = RunWriter::begin(path, info, oneReading());
  auto window = Book::open(path, BookAccess::ReadWrite);
  for (int i = 0; i < 20; ++i) {
    writer->addSweep(0, i * 0.5, {40.0 + i});
    REQUIRE(writer->commit());
    REQUIRE(window->addEvent(info.id, {i * 0.5, EventKind::Note, "n", "", kMissing, kMissing, Json::object()}));
    CHECK(window->run(info.id)->sampleCount == i + 1);
  }
  REQUIRE(window->voidRun(info.id, "left a cable in the fan"));
  REQUIRE(writer->finish(Outcome::Completed, ""));
  // Void while it went on: it stays void.
  CHECK(window->run(info.id)->info.outcome == Outcome::Void);
  CHECK(window->run(info.id)->info.reason == "left a cable in the fan");
  CHECK(window->readRun(info.id)->facts.events.size() == 20);
}

TEST_CASE("whoeverOpensABookWaitsForSomebodyWhoHasItToHimself") {
  const TempFolder folder;
  const std::string path = sharedBook(folder);
  for (const BookAccess access : {BookAccess::ReadOnly, BookAccess::ReadWrite}) {
    // As while another process makes the log's index or recovers it: nobody else may even read.
    auto other = std::make_unique<SQLite::Database>(path, SQLite::OPEN_READWRITE);
    other->exec("PRAGMA locking_mode = EXCLUSIVE");
    other->exec("BEGIN EXCLUSIVE");
    {
      SQLite::Database impatient(path, SQLite::OPEN_READONLY);
      CHECK_THROWS_WITH(impatient.execAndGet("PRAGMA user_version"), Catch::Contains("locked"));
    }
    std::thread letsGo([&] {
      std::this_thread::sleep_for(std::chrono::milliseconds(300));
      other.reset();
    });
    const auto book = Book::open(path, access);
    letsGo.join();
    INFO((book ? "" : book.error().message));
    CHECK(book);
  }
}

TEST_CASE("anUnknownRunIsRefused") {
  const TempFolder folder;
  const auto book = Book::open(sharedBook(folder), BookAccess::ReadOnly);
  CHECK(book->run("nobody").error().message.find("There is no run nobody") == 0);
  CHECK_FALSE(book->readRun(""));
}

TEST_CASE("runIdsDiffer") {
  CHECK(newRunId() != newRunId());
  CHECK(newRunId().size() == 9);
}

TEST_CASE("theKindOfALoadIsKnownWhateverItsName") {
  for (const auto& [kind, known] : {std::pair{"storage", LoadKind::Storage},
                                    {"graphics", LoadKind::Graphics},
                                    {"of a later version", LoadKind::Other}}) {
    const TempFolder folder;
    const std::string path = sharedBook(folder, "Long write", kind);
    RunInfo info = sharedRun("Long write");
    {
      auto writer = RunWriter::begin(path, info, oneReading());
      REQUIRE(writer);
      writer->addSweep(0, 0, {40});
      REQUIRE(writer->finish(Outcome::Completed, ""));
    }
    const auto run = Book::open(path, BookAccess::ReadOnly)->readRun(info.id);
    REQUIRE(run);
    CHECK(run->facts.load == "Long write");
    CHECK(run->facts.loadKind == known);
    CHECK(run->facts.loadKind.text() == kind);
  }
}
