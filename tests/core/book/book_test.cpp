// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/book.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <thread>

#include "book/book_format.h"
#include "book/run_writer.h"
#include "model/study_plan.h"
#include "system/clock.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

std::vector<SourceInfo> twoSources() {
  Reading temperature;
  temperature.id = "chip/temp1";
  temperature.role = "cpu.temp";
  temperature.quantity = Quantity::Temperature;
  temperature.unit = "°C";
  temperature.limits = {{"throttle", 95}, {"critical", 105}};
  temperature.step = 0.125;
  Reading unnamed = temperature;
  unnamed.id = "chip/temp2";
  unnamed.role = "";
  Reading power;
  power.id = "meter/power";
  power.role = "wall.power";
  power.quantity = Quantity::Power;
  power.unit = "W";
  return {{"chip", {temperature, unnamed}}, {"meter", {power}}};
}

RunInfo newRun() {
  RunInfo info;
  info.study = "s";
  info.setup = "solid";
  info.load = "vector";
  info.started = isoTimeNow();
  info.procedure = *parsePhases("idle 10s, soak settled 10s..60s");
  info.watched = "cpu.temp";
  info.conditions = {{"room_c", 22.5}};
  return info;
}

std::string newBook(const TempFolder& folder) {
  const std::string path = folder.path("b.ashbook");
  auto book = Book::create(path);
  REQUIRE(book);
  REQUIRE(book->ensurePlace("s", {"solid", Json::object(), {{"panel", "solid"}}, Json::object()},
                            {"vector", {{"kind", "vector"}}}));
  return path;
}

void addSweeps(RunWriter& writer, int from, int count) {
  for (int i = from; i < from + count; ++i) {
    writer.addSweep(0, i * 0.5, {40.0 + i, i % 3 == 0 ? kMissing : 30.0});
    writer.addSweep(1, i * 0.5 + 0.01, {100.0 + i});
  }
}

// In a child that is killed: writes a sweep every 5 ms and says after each commit how far it has come.
[[noreturn]] void recordForever(const std::string& path, int tell) {
  RunInfo info = newRun();
  auto writer = RunWriter::begin(path, info, twoSources());
  if (!writer) _exit(2);
  writer->beginPhase(PhaseKind::Idle, 0);
  for (int i = 0;; ++i) {
    addSweeps(*writer, i, 1);
    if (i % 10 == 9 && writer->commit()) {
      const ssize_t told = write(tell, &i, sizeof i);
      if (told != sizeof i) _exit(3);
    }
    std::this_thread::sleep_for(std::chrono::milliseconds(1));
  }
}

}  // namespace

TEST_CASE("aRunComesBackAsItWasWritten") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  RunInfo info = newRun();
  {
    auto writer = RunWriter::begin(path, info, twoSources());
    REQUIRE(writer);
    writer->beginPhase(PhaseKind::Idle, 0);
    addSweeps(*writer, 0, 20);
    REQUIRE(writer->commit());
    writer->endPhase(10);
    writer->beginPhase(PhaseKind::Soak, 10);
    writer->addEvent({3.5, EventKind::Note, "window shut", "", kMissing, kMissing, Json::object()});
    writer->addEvent({4, EventKind::Reading, "", "noise", 38, 44, Json::object()});
    writer->addEvent({5, EventKind::fromText("of a later version"), "kept", "", kMissing, kMissing, Json::object()});
    addSweeps(*writer, 20, 2000);
    writer->endPhase(1010);
    REQUIRE(writer->finish(Outcome::StoppedByHand, "enough"));
  }
  const auto book = Book::open(path, BookAccess::ReadOnly);
  REQUIRE(book);
  CHECK(book->check()->empty());
  const auto run = book->readRun(info.id);
  REQUIRE(run);
  CHECK(run->log.timeS.size() == 2020);
  CHECK(run->log.timeS[3] == 1.5);
  const Channel* temperature = run->log.find("cpu.temp");
  REQUIRE(temperature);
  CHECK(temperature->values[2019] == 40 + 2019);
  CHECK(temperature->stepHint == 0.125);
  CHECK(std::isnan(run->log.find("chip/temp2")->values[3]));
  CHECK(run->log.find("chip/temp2")->values[4] == 30);
  // The meter was swept 10 ms later: the same moment of the log.
  CHECK(run->log.find("wall.power")->values[5] == 105);
  CHECK(run->facts.limit("cpu.temp", "critical") == 105.0);
  CHECK(run->facts.conditions["panel"] == "solid");
  CHECK(run->facts.conditions["room_c"] == 22.5);
  REQUIRE(run->facts.phases.size() == 2);
  CHECK(run->facts.phases[1].startS == 10);
  CHECK(run->facts.phases[1].endS == 1010);
  REQUIRE(run->facts.events.size() == 3);
  CHECK(run->facts.events[1].valueHigh == 44);
  CHECK(run->facts.events[2].kind == EventKind::Other);
  CHECK(run->facts.events[2].kind.text() == "of a later version");
  CHECK(run->facts.outcome == Outcome::StoppedByHand);
  CHECK(book->readRunAfter(info.id, 1000)->log.timeS.front() == 1000.5);
}

TEST_CASE("aSlowSourceLeavesHolesAndComesBackWithWhatItMayBeOffBy") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  Study study = Book::open(path, BookAccess::ReadOnly)->studies()->front(), edited = study;
  StudyPlan plan;
  plan.byHand = {{"noise", "50 cm", OwedReading::When::Settled, 1.5, 0}, {"wall.power", "", {}, 0, 1}};
  edited.plan = planToJson(plan);
  REQUIRE(Book::open(path, BookAccess::ReadWrite)->putStudy(study, edited));
  auto sources = twoSources();
  sources[1].readings[0].accuracy = 0.5;
  sources[1].readings[0].device = "bench meter";
  sources[1].readings[0].place = "before the UPS";
  RunInfo info = newRun();
  {
    auto writer = RunWriter::begin(path, info, sources);
    REQUIRE(writer);
    for (int i = 0; i < 700; ++i) {
      writer->addSweep(0, i * 0.5, {40.0 + i, 30.0});
      if (i % 4 == 2) writer->addSweep(1, i * 0.5 + 0.02, {100.0 + i});
    }
    REQUIRE(writer->finish(Outcome::Completed, ""));
  }
  const RunLog run = *Book::open(path, BookAccess::ReadOnly)->readRun(info.id);
  REQUIRE(run.log.timeS.size() == 700);
  const std::vector<double>& watts = run.log.find("wall.power")->values;
  size_t holes = 0;
  for (size_t i = 0; i < watts.size(); ++i) {
    holes += std::isnan(watts[i]);
    if (i % 4 == 2) CHECK(watts[i] == 100.0 + static_cast<double>(i));
  }
  CHECK(holes == 525);
  CHECK(run.log.find("cpu.temp")->values[699] == 739);
  // What the source states of itself goes before what the plan says.
  CHECK(run.facts.accuracies.at("wall.power").plusMinus == 0.5);
  CHECK(run.facts.accuracies.at("wall.power").instrument == "bench meter");
  CHECK(run.facts.accuracies.at("noise").plusMinus == 1.5);
  CHECK(run.facts.places.at("wall.power") == "before the UPS");
}

TEST_CASE("repeatsAreCountedPerSetupAndLoad") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  for (int repeat = 1; repeat <= 3; ++repeat) {
    RunInfo info = newRun();
    auto writer = RunWriter::begin(path, info, twoSources());
    REQUIRE(writer);
    CHECK(info.repeat == repeat);
    REQUIRE(writer->finish(Outcome::Completed, ""));
  }
  CHECK(Book::open(path, BookAccess::ReadOnly)->runs()->size() == 3);
}

TEST_CASE("killedAtAnyMomentTheBookIsSoundAndHoldsTheRun") {
  const TempFolder folder;
  for (int round = 0; round < 12; ++round) {
    const std::string path = folder.path("kill" + std::to_string(round) + ".ashbook");
    REQUIRE(Book::create(path)->ensurePlace("s", {"solid", Json::object(), Json::object(), Json::object()},
                                            {"vector", Json::object()}));
    int ends[2];
    REQUIRE(pipe(ends) == 0);
    const pid_t child = fork();
    if (child == 0) recordForever(path, ends[1]);
    close(ends[1]);
    int told = -1, last = -1;
    REQUIRE(read(ends[0], &told, sizeof told) == sizeof told);
    std::this_thread::sleep_for(std::chrono::microseconds(3000 + 7919 * round));
    kill(child, SIGKILL);
    waitpid(child, nullptr, 0);
    while (read(ends[0], &last, sizeof last) == sizeof last) told = last;
    close(ends[0]);
    INFO("round " << round);
    {
      const auto book = Book::open(path, BookAccess::ReadOnly);
      REQUIRE(book);
      CHECK(book->check()->empty());
      const auto runs = book->runs();
      REQUIRE(runs->size() == 1);
      CHECK(runs->front().info.outcome == Outcome::RecorderDied);
      CHECK(runs->front().sampleCount >= told + 1);
      const auto run = book->readRun(runs->front().info.id);
      CHECK(run->log.timeS.size() == static_cast<size_t>(runs->front().sampleCount));
      CHECK(run->log.find("cpu.temp")->values.back() == 40 + run->log.timeS.back() * 2);
      REQUIRE(run->facts.phases.size() == 1);
      CHECK(run->facts.phases[0].endS == run->log.timeS.back());
    }
    auto book = Book::open(path, BookAccess::ReadWrite);
    const auto interrupted = book->interrupted();
    REQUIRE(interrupted->size() == 1);
    CHECK(book->close(interrupted->front().info));
    CHECK(book->interrupted()->empty());
    CHECK(book->runs()->front().info.reason.find("ended without closing the run") != std::string::npos);
  }
}

TEST_CASE("aRunFromBeforeARestartIsOneThatWentDown") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  RunInfo info = newRun();
  { REQUIRE(RunWriter::begin(path, info, twoSources())->commit()); }
  // This process is alive, so the run counts as going on.
  CHECK(Book::open(path, BookAccess::ReadOnly)->runs()->front().info.outcome == Outcome::Running);
  { SQLite::Database(path, SQLite::OPEN_READWRITE).exec("UPDATE run SET recorder_boot = 'another boot'"); }
  const auto runs = Book::open(path, BookAccess::ReadOnly)->runs();
  CHECK(runs->front().info.outcome == Outcome::MachineWentDown);
  CHECK(runs->front().info.reason == "The machine was started anew while the run was going on.");
}

TEST_CASE("damageIsFoundAndNamed") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  RunInfo info = newRun();
  {
    auto writer = RunWriter::begin(path, info, twoSources());
    addSweeps(*writer, 0, 50);
    REQUIRE(writer->finish(Outcome::Completed, ""));
  }
  {
    SQLite::Database(path, SQLite::OPEN_READWRITE)
        .exec("UPDATE block SET samples = zeroblob(length(samples)) WHERE source = 0");
  }
  auto faults = Book::open(path, BookAccess::ReadOnly)->check();
  REQUIRE(faults->size() == 1);
  CHECK(faults->front() == "Run " + info.id + ", source 0, block 0: its checksum is wrong.");
  // What is whole is still read.
  auto run = Book::open(path, BookAccess::ReadOnly)->readRun(info.id);
  CHECK(run->log.timeS.size() == 50);
  CHECK(run->log.find("wall.power")->values[49] == 149.0);
  CHECK(std::isnan(run->log.find("cpu.temp")->values[49]));
  { SQLite::Database(path, SQLite::OPEN_READWRITE).exec("UPDATE block SET times = x'00' WHERE source = 1"); }
  faults = Book::open(path, BookAccess::ReadOnly)->check();
  CHECK(faults->size() == 2);
  run = Book::open(path, BookAccess::ReadOnly)->readRun(info.id);
  CHECK(run->log.timeS.empty());
  CHECK(run->log.problems.size() == 2);
}

TEST_CASE("whatIsNoBookIsRefusedInOneSentence") {
  const TempFolder folder;
  const auto refusal = [](const std::string& path) {
    const auto book = Book::open(path, BookAccess::ReadWrite);
    return book ? std::string("opened") : book.error().message;
  };
  CHECK(refusal(folder.path("none")).find("There is no book") == 0);
  CHECK(refusal(folder.path()).find("is a folder") != std::string::npos);
  CHECK(refusal(folder.write("text", std::string(2000, 'x'))).find("is no book") != std::string::npos);
  {
    SQLite::Database other(folder.path("other.db"), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    other.exec("CREATE TABLE t (x)");
  }
  CHECK(refusal(folder.path("other.db")).find("is no book of this program") != std::string::npos);
  const std::string path = newBook(folder);
  { SQLite::Database(path, SQLite::OPEN_READWRITE).exec("PRAGMA user_version = 99"); }
  CHECK(refusal(path).find("newer version (format 99, this one knows 3)") != std::string::npos);
  CHECK(Book::create(path).error().message.find("is there already") != std::string::npos);
}

TEST_CASE("aNewBookCarriesItsMarks") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  SQLite::Database database(path, SQLite::OPEN_READONLY);
  CHECK(database.execAndGet("PRAGMA application_id").getInt() == kBookApplicationId);
  CHECK(database.execAndGet("PRAGMA user_version").getInt() == kBookFormat);
  CHECK(database.execAndGet("PRAGMA journal_mode").getString() == "wal");
}

TEST_CASE("samplesThatAreNoLongerWhatWasWrittenAreMissingWithTheirReason") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  RunInfo info = newRun();
  auto writer = RunWriter::begin(path, info, twoSources());
  for (int part = 0; part < 3; ++part) {
    addSweeps(*writer, 4 * part, 4);
    REQUIRE(writer->commit());
  }
  // As a drive that gives back other bytes than it was given: +20 on every sample of the second block.
  {
    SQLite::Database database(path, SQLite::OPEN_READWRITE);
    SQLite::Statement read(database, "SELECT samples FROM block WHERE source = 0 AND number = 1");
    REQUIRE(read.executeStep());
    const SQLite::Column blob = read.getColumn(0);
    std::vector<double> values(static_cast<size_t>(blob.getBytes()) / sizeof(double));
    std::memcpy(values.data(), blob.getBlob(), values.size() * sizeof(double));
    for (double& value : values) value += 20;
    read.reset();
    SQLite::Statement write(database, "UPDATE block SET samples = ? WHERE source = 0 AND number = 1");
    write.bind(1, values.data(), static_cast<int>(values.size() * sizeof(double)));
    write.exec();
  }
  const auto run = Book::open(path, BookAccess::ReadOnly)->readRun(info.id);
  REQUIRE(run);
  const Channel* temperature = run->log.find("cpu.temp");
  const Channel* power = run->log.find("wall.power");
  REQUIRE(temperature != nullptr);
  REQUIRE(run->log.timeS.size() == 12);
  for (size_t row = 0; row < 12; ++row) {
    INFO(row);
    if (row >= 4 && row < 8)
      CHECK(std::isnan(temperature->values[row]));
    else
      CHECK(temperature->values[row] == 40.0 + static_cast<double>(row));
    CHECK(power->values[row] == 100.0 + static_cast<double>(row));  // the other source is whole
  }
  REQUIRE(run->log.problems.size() == 1);
  CHECK(run->log.problems[0].kind == ProblemKind::Damaged);
  CHECK(run->log.problems[0].startS == 2.0);
  CHECK(run->log.problems[0].endS == 3.5);
  CHECK(
      run->log.problems[0].text ==
      "The samples of cpu.temp from 2.0 s to 3.5 s are no longer what was written into the book (wrong checksum): they "
      "are missing here.");
}

TEST_CASE("timesThatAreNoNumbersDoNotReachTheAxis") {
  const TempFolder folder;
  const std::string path = newBook(folder);
  RunInfo info = newRun();
  auto writer = RunWriter::begin(path, info, twoSources());
  addSweeps(*writer, 0, 3);
  writer->addSweep(1, kMissing, {5});
  writer->addSweep(1, 9, {6});
  REQUIRE(writer->commit());
  const auto run = Book::open(path, BookAccess::ReadOnly)->readRun(info.id);
  REQUIRE(run);
  CHECK(std::is_sorted(run->log.timeS.begin(), run->log.timeS.end()));
  CHECK(run->log.timeS.size() == 3);
  CHECK(run->log.problems.size() == 1);
}

TEST_CASE("aBookOfTheFirstFormatIsBroughtUpToDateWithAllItHolds") {
  const TempFolder folder;
  const std::string path = folder.path("old.ashbook");
  {
    SQLite::Database database(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    database.exec("PRAGMA journal_mode = WAL");
    database.exec(std::string(kMigrations[0]));
    database.exec("INSERT INTO study VALUES (3, 'panels', 'Which?', '{}', 'then')");
    database.exec("INSERT INTO setup (id, study, name) VALUES (4, 3, 'mesh'), (7, 3, 'solid')");
    database.exec("INSERT INTO load (id, study, name) VALUES (5, 3, 'vector')");
    database.exec(
        "INSERT INTO run (id, setup, load, repeat, outcome, started, procedure, interval_s) VALUES "
        "('r1', 7, 5, 1, 'completed', 'then', 'idle 1s', 0.5)");
    database.exec("PRAGMA user_version = 1");
    database.exec("PRAGMA application_id = " + std::to_string(kBookApplicationId));
  }
  CHECK(*Book::open(path, BookAccess::ReadOnly)->edition() == 0);
  auto book = Book::open(path, BookAccess::ReadWrite);
  REQUIRE(book);
  CHECK(book->check()->empty());
  CHECK(book->run("r1")->info.setup == "solid");
  REQUIRE(book->ensurePlace("panels", {"third", Json::object(), Json::object(), Json::object()},
                            {"vector", Json::object()}));
  const Study study = book->studies()->front();
  CHECK(study.id == 3);
  CHECK(study.setups.back().id == 8);
  CHECK(*book->edition() == 1);
}
