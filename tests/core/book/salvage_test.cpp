// SPDX-License-Identifier: GPL-3.0-or-later
// Damaged books: whichever page is lost, the others are saved and the loss is told.
#include "book/salvage.h"

#include <sqlite3.h>

#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <random>

#include "book/book.h"
#include "book/run_writer.h"
#include "book/sqlite_pages.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

constexpr size_t kPage = 4096;
constexpr int kRuns = 3, kSweeps = 2500, kColumns = 6;

double valueAt(int run, int sweep, int column) { return run * 1000 + sweep * 0.01 + column; }

std::vector<SourceInfo> oneSource() {
  SourceInfo source;
  source.id = "chip";
  for (int c = 0; c < kColumns; ++c) {
    Reading reading;
    reading.id = reading.name = "r" + std::to_string(c);
    if (c == 0) reading.role = "cpu.temp";
    reading.unit = "°C";
    source.readings.push_back(reading);
  }
  return {source};
}

std::string makeBook(const TempFolder& folder) {
  const std::string path = folder.path("b.ashbook");
  REQUIRE(Book::create(path)->ensurePlace("Which panel?", {"mesh"}, {"vector"}));
  for (int run = 0; run < kRuns; ++run) {
    RunInfo info;
    info.id = "run" + std::to_string(run);
    info.study = "Which panel?";
    info.setup = "mesh";
    info.load = "vector";
    auto writer = RunWriter::begin(path, info, oneSource());
    REQUIRE(writer);
    writer->beginPhase(PhaseKind::Soak, 0);
    Event note;
    note.kind = "note";
    note.atS = 5;
    note.text = "coil whine";
    writer->addEvent(note);
    for (int sweep = 0; sweep < kSweeps; ++sweep) {
      std::vector<double> values;
      for (int c = 0; c < kColumns; ++c) values.push_back(valueAt(run, sweep, c));
      writer->addSweep(0, 0.5 * sweep, values);
      if (sweep % 50 == 49) REQUIRE(writer->commit());
    }
    writer->endPhase(0.5 * kSweeps);
    REQUIRE(writer->finish(Outcome::Completed, ""));
  }
  return path;
}

/// Sweeps of all runs in a book, every one of them checked to be what was written.
long long rightSweeps(const std::string& path) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  REQUIRE(book);
  CHECK(book->check()->empty());
  long long sweeps = 0;
  const auto runs = book->runs();
  REQUIRE(runs);
  for (const RunSummary& run : *runs) {
    const auto log = book->readRun(run.info.id);
    REQUIRE(log);
    const int number = run.info.id.size() == 4 ? run.info.id[3] - '0' : -1;
    for (size_t row = 0; row < log->log.timeS.size(); ++row) {
      const int sweep = static_cast<int>(log->log.timeS[row] * 2 + 0.5);
      for (size_t c = 0; c < log->log.channels.size(); ++c) {
        if (log->log.channels[c].values[row] != valueAt(number, sweep, static_cast<int>(c))) FAIL("another value");
      }
    }
    sweeps += static_cast<long long>(log->log.timeS.size());
  }
  return sweeps;
}

void overwrite(const std::string& path, size_t at, const std::string& bytes) {
  std::fstream file(path, std::ios::in | std::ios::out | std::ios::binary);
  file.seekp(static_cast<std::streamoff>(at));
  file << bytes;
}

}  // namespace

TEST_CASE("aRecordIsReadAsTheFileFormatSays") {
  // Header of 6 bytes: NULL, one byte, two bytes, a real, a text of 2; https://www.sqlite.org/fileformat2.html, 2.1.
  const std::string payload = std::string("\x06\x00\x01\x02\x07\x11", 6) + "\x05" + std::string("\xff\xfe", 2) +
                              std::string("\x3f\xf8\0\0\0\0\0\0", 8) + "ab";
  const auto values = decodeSqliteRecord(payload);
  REQUIRE(values.size() == 5);
  CHECK(std::holds_alternative<std::monostate>(values[0]));
  CHECK(std::get<int64_t>(values[1]) == 5);
  CHECK(std::get<int64_t>(values[2]) == -2);
  CHECK(std::get<double>(values[3]) == 1.5);
  CHECK(std::get<std::string>(values[4]) == "ab");
  CHECK(decodeSqliteRecord(payload.substr(0, payload.size() - 1)).empty());
  CHECK(decodeSqliteRecord("").empty());
}

TEST_CASE("aWholeBookIsSavedWhole") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  const auto report = salvageBook(path, folder.path("saved.ashbook"));
  REQUIRE(report);
  for (const std::string& loss : report->losses) FAIL(loss);
  CHECK(report->runs == kRuns);
  CHECK(report->sweeps == kRuns * kSweeps);
  CHECK(rightSweeps(report->path) == kRuns * kSweeps);
  const auto saved = Book::open(report->path, BookAccess::ReadOnly);
  CHECK(saved->studies()->front().name == "Which panel?");
  const auto run = saved->readRun("run1");
  CHECK(run->facts.events.front().text == "coil whine");
  CHECK(run->facts.phases.size() == 1);
  CHECK(saved->run("run2")->info.outcome == Outcome::Completed);
}

TEST_CASE("whatIsStillInTheLogIsSavedToo") {
  const TempFolder folder;
  const std::string path = folder.path("b.ashbook");
  REQUIRE(Book::create(path)->ensurePlace("s", {"mesh"}, {"vector"}));
  RunInfo info;
  info.id = "run0";
  info.study = "s";
  info.setup = "mesh";
  info.load = "vector";
  auto writer = RunWriter::begin(path, info, oneSource());
  for (int sweep = 0; sweep < 20; ++sweep) {
    std::vector<double> values;
    for (int c = 0; c < kColumns; ++c) values.push_back(valueAt(0, sweep, c));
    writer->addSweep(0, 0.5 * sweep, values);
  }
  REQUIRE(writer->commit());
  REQUIRE(std::filesystem::file_size(path + "-wal") > 0);
  const auto report = salvageBook(path, folder.path("saved.ashbook"));
  REQUIRE(report);
  CHECK(report->sweeps == 20);
}

TEST_CASE("anyDamagedPageTakesOnlyWhatStoodInIt") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  const size_t pages = std::filesystem::file_size(path) / kPage;
  REQUIRE(pages > 60);
  std::mt19937 random(3);
  int sound = 0;
  for (size_t page = 0; page < pages; page += page < 24 ? 1 : 9) {
    const TempFolder round;
    const std::string damaged = round.path("b.ashbook");
    std::filesystem::copy_file(path, damaged);
    std::string junk(kPage, '\0');
    if (page % 2 == 0) {
      for (char& byte : junk) byte = static_cast<char>(random());
    }
    overwrite(damaged, page * kPage, junk);
    INFO("page " << page + 1 << " of " << pages);
    const auto report = salvageBook(damaged, round.path("saved.ashbook"));
    REQUIRE(report);
    const long long sweeps = rightSweeps(report->path);
    CHECK(sweeps == report->sweeps);
    // A block has at most 1024 sweeps, and a page of the block table carries the heads of some.
    CHECK(sweeps >= kRuns * kSweeps - 4 * 1024);
    if (sweeps < kRuns * kSweeps) CHECK_FALSE(report->losses.empty());
    sound += sweeps == kRuns * kSweeps;
    CHECK(Book::open(report->path, BookAccess::ReadOnly)->runs()->size() == kRuns);
  }
  CHECK(sound > 10);
}

TEST_CASE("aBookWithoutItsHeaderIsStillSaved") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  overwrite(path, 0, std::string(100, '\xAA'));
  const auto opened = Book::open(path, BookAccess::ReadOnly);
  REQUIRE_FALSE(opened);
  CHECK(opened.error().isDamage);
  const auto report = salvageBook(path, folder.path("saved.ashbook"));
  REQUIRE(report);
  CHECK(rightSweeps(report->path) == kRuns * kSweeps);
}

TEST_CASE("aBookCutShortGivesWhatIsBeforeTheCut") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  std::filesystem::resize_file(path, std::filesystem::file_size(path) * 2 / 3);
  const auto report = salvageBook(path, folder.path("saved.ashbook"));
  REQUIRE(report);
  const long long sweeps = rightSweeps(report->path);
  CHECK(sweeps > kSweeps);
  CHECK(sweeps < kRuns * kSweeps);
  CHECK_FALSE(report->losses.empty());
}

TEST_CASE("whatIsNoBookIsNotSavedAndNothingIsMade") {
  const TempFolder folder;
  const std::string letter = folder.write("letter.txt", std::string(20'000, 'x'));
  const auto report = salvageBook(letter, folder.path("saved.ashbook"));
  REQUIRE_FALSE(report);
  CHECK(report.error().message.find("Nothing of a book can be read in") == 0);
  CHECK_FALSE(std::filesystem::exists(folder.path("saved.ashbook")));
  CHECK_FALSE(salvageBook(folder.path("missing"), folder.path("saved.ashbook")));
  CHECK_FALSE(salvageBook(folder.path(), folder.path("saved.ashbook")));
}

TEST_CASE("aSavedBookTakesNobodysName") {
  const TempFolder folder;
  CHECK(salvagePath(folder.path("b.ashbook")) == folder.path("b-saved.ashbook"));
  folder.write("b-saved.ashbook", "");
  CHECK(salvagePath(folder.path("b.ashbook")) == folder.path("b-saved-2.ashbook"));
}
