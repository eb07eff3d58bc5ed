// SPDX-License-Identifier: GPL-3.0-or-later
// Damaged books: whichever page is lost, the others are saved and the loss is told.
#include "book/salvage.h"

#include <SQLiteCpp/SQLiteCpp.h>
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
constexpr int kRuns = 3, kSweeps = 2500, kSalvageColumns = 6;

double valueAt(int run, int sweep, int column) { return run * 1000 + sweep * 0.01 + column; }

std::vector<SourceInfo> oneSource() {
  SourceInfo source;
  source.id = "chip";
  for (int c = 0; c < kSalvageColumns; ++c) {
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
    note.kind = EventKind::Note;
    note.atS = 5;
    note.text = "coil whine";
    writer->addEvent(note);
    for (int sweep = 0; sweep < kSweeps; ++sweep) {
      std::vector<double> values;
      for (int c = 0; c < kSalvageColumns; ++c) values.push_back(valueAt(run, sweep, c));
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

namespace {

// Every row of every table, as text; numbers that SQLite keeps for itself are left out.
std::map<std::string, std::vector<std::string>> everyRow(const std::string& path) {
  SQLite::Database database(path, SQLite::OPEN_READONLY);
  std::map<std::string, std::vector<std::string>> all;
  SQLite::Statement tables(database,
                           "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'");
  while (tables.executeStep()) {
    const std::string table = tables.getColumn(0).getString();
    SQLite::Statement rows(database, "SELECT * FROM " + table);
    while (rows.executeStep()) {
      std::string text;
      for (int column = 0; column < rows.getColumnCount(); ++column)
        text += rows.getColumn(column).isNull() ? "NULL|" : rows.getColumn(column).getString() + "|";
      all[table].push_back(text);
    }
    std::sort(all[table].begin(), all[table].end());
  }
  return all;
}

}  // namespace

TEST_CASE("aSavedCopyOfAHealthyBookEqualsItInEveryTable") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  {
    auto book = Book::open(path, BookAccess::ReadWrite);
    REQUIRE(book->putReadingChoice("bench / board", "chip/temp1",
                                   {std::string("board.temp.vrm"), {{"throttle", 95}}, false}));
    REQUIRE(book->putReadingChoice("another", "chip/temp2", {std::nullopt, {}, true}));
    REQUIRE(book->voidRun("run1", "cable in the fan"));
    Attachment file;
    file.name = "tick.wav";
    file.type = "audio/vnd.wave";
    file.run = "run2";
    file.atS = 12.5;
    REQUIRE(book->attach(file, std::string(9000, 't')));
    file.run.clear();
    file.setup = book->studies()->front().setups.front().id;
    REQUIRE(book->attach(file, "abc"));
    REQUIRE(book->putProcedure("quick", "idle 10s, soak 1min"));
    REQUIRE(book->putProcedure("quick", "idle 10s, soak 2min"));
    REQUIRE(book->putLadder({"low",
                             book->studies()->front().name,
                             "2026-10-13T10:00:00+02:00",
                             {{"knob", "cpu.power.limit"}},
                             {{"over", true}}}));
  }
  const auto report = salvageBook(path, folder.path("saved.ashbook"));
  REQUIRE(report);
  for (const std::string& loss : report->losses) FAIL(loss);
  const auto before = everyRow(path), after = everyRow(report->path);
  // All tables of the schema, and in each what a book may hold.
  CHECK(before.size() == 14);
  for (const auto& [table, rows] : before) {
    INFO(table);
    CHECK_FALSE(rows.empty());
    CHECK((after.contains(table) && after.at(table) == rows));
  }
}

TEST_CASE("rowsOfATableThatNobodyKnowsAreToldAsLost") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  {
    SQLite::Database database(path, SQLite::OPEN_READWRITE);
    database.exec(
        "CREATE TABLE later (a REAL, b REAL, c BLOB); INSERT INTO later VALUES (1.5, 2.5, x'00'), (1, 2, x'01')");
  }
  const auto report = salvageBook(path, folder.path("saved.ashbook"));
  REQUIRE(report);
  CHECK(report->losses == std::vector<std::string>{"2 rows are of a kind that this version does not know."});
}

TEST_CASE("aLogThatClaimsMorePagesThanThereAreEndsAllTheSame") {
  const TempFolder folder;
  const std::string path = makeBook(folder);
  // One frame that commits 2^32 - 1 pages; checksums as in fileformat2.html, 4.1 and 4.2 (big-endian magic).
  const auto big = [](uint32_t value) {
    std::string bytes;
    for (int shift = 24; shift >= 0; shift -= 8) bytes += static_cast<char>(value >> shift & 0xff);
    return bytes;
  };
  const auto add = [](const std::string& bytes, uint32_t& s1, uint32_t& s2) {
    const auto word = [&](size_t at) {
      uint32_t value = 0;
      for (size_t i = 0; i < 4; ++i) value = value << 8 | static_cast<uint8_t>(bytes[at + i]);
      return value;
    };
    for (size_t at = 0; at < bytes.size(); at += 8) {
      s1 += word(at) + s2;
      s2 += word(at + 4) + s1;
    }
  };
  uint32_t s1 = 0, s2 = 0;
  std::string log = big(0x377f0683) + big(3007000) + big(kPage) + big(0) + big(7) + big(9);
  add(log, s1, s2);
  log += big(s1) + big(s2);
  for (const uint32_t page : {0xfffffffeu, 2u}) {
    const std::string frame = big(page) + big(0xffffffffu), content(kPage, '\x0d');
    add(frame, s1, s2);
    add(content, s1, s2);
    log += frame + big(7) + big(9) + big(s1) + big(s2) + content;
  }
  folder.write("b.ashbook-wal", log);
  const auto pages = SqlitePages::open(path);
  REQUIRE(pages);
  // What both files hold together, and no more.
  CHECK(pages->pageCount() <= std::filesystem::file_size(path) / kPage + log.size() / kPage);
  CHECK(salvageBook(path, folder.path("saved.ashbook")));
}

TEST_CASE("aChainOfPagesThatComesBackToItselfTakesNoMemory") {
  const TempFolder folder;
  // Page 2 is a leaf whose only row claims 200 MB and goes on in page 3, which names itself as the next.
  std::string file(3 * kPage, '\0');
  file.replace(0, 16, std::string("SQLite format 3\0", 16));
  file[16] = 0x10;
  const size_t leaf = kPage, cell = kPage + 2000;
  file[leaf] = 0x0d;
  file[leaf + 4] = 1;
  file[leaf + 8] = static_cast<char>(2000 >> 8);
  file[leaf + 9] = static_cast<char>(2000 & 0xff);
  file.replace(cell, 5, std::string("\xdf\xaf\x84\x00\x01", 5));  // 200,000,000 as a varint, then row 1
  for (size_t at = cell + 5; at + 4 < 2 * kPage; at += 4) file[at + 3] = 3;
  file[2 * kPage + 3] = 3;
  const std::string path = folder.write("b.ashbook", file);
  const auto pages = SqlitePages::open(path);
  REQUIRE(pages);
  REQUIRE(pages->cellCount(2) == 1);
  CHECK(pages->row({2, 0}).values.empty());
  CHECK_FALSE(salvageBook(path, folder.path("saved.ashbook")));
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
    for (int c = 0; c < kSalvageColumns; ++c) values.push_back(valueAt(0, sweep, c));
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
