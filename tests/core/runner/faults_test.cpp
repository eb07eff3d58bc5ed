// SPDX-License-Identifier: GPL-3.0-or-later
// What a recorder must survive: full, lost and slow drives, sleep, wrong results, rules that act in every way.
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <optional>
#include <thread>

#include "analysis/run/figures.h"
#include "runner/interrupted.h"
#include "tests/support/recording.h"
#include "tests/support/recording_disk.h"

using namespace ash;
using namespace ash::tests;

namespace {

// Slows a fake bench down to about this many sweeps a second, so that a drive can fail while it goes on.
void paced(
    FakeBench& bench, int sweepsPerS, const std::function<void(double)>& also = [](double) {}) {
  bench.beforeTick = [=](double t) {
    std::this_thread::sleep_for(std::chrono::microseconds(1'000'000 / sweepsPerS));
    also(t);
  };
}

RunPlan withRule(const Place& place, const std::string& phases, const std::string& rule) {
  RunPlan asked = plan(place, phases);
  asked.rules.push_back(*parseStopRule(rule));
  return asked;
}

std::vector<std::string> textsOf(const RunLog& run, EventKind::Known kind) {
  std::vector<std::string> texts;
  for (const Event& event : run.facts.events) {
    if (event.kind == kind) texts.push_back(event.text);
  }
  return texts;
}

}  // namespace

TEST_CASE("aFullDriveEndsTheLoadAndKeepsEverythingBefore") {
  const Place place;
  RecordingDisk disk;
  RunPlan asked = plan(place, "idle 10s, soak 10h");
  asked.runId = "rfull";
  disk.reserve = place.book() + "-reserve-rfull";
  disk.reserveB = 1024 * 1024;
  FakeBench bench;
  double fullAtS = kMissing;
  paced(bench, 400, [&](double t) {
    if (t < 100 || std::isfinite(fullAtS)) return;
    fullAtS = t;
    disk.spaceB = disk.reserveB;  // nothing beside the reserve
  });
  const RunResult result = record(asked, bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  CHECK(result.reason.find("The drive of the book is full; the load was stopped.") == 0);
  CHECK_FALSE(bench.isLoadOn);
  const RunLog run = readBack(place, "rfull");
  CHECK(run.facts.outcome == Outcome::StoppedByRule);
  CHECK(run.log.timeS.back() >= fullAtS);
  CHECK(Book::open(place.book(), BookAccess::ReadOnly)->check()->empty());
  CHECK_FALSE(std::filesystem::exists(disk.reserve));
}

TEST_CASE("aDriveThatFailsForAWhileLosesNothing") {
  const Place place;
  RecordingDisk disk;
  FakeBench bench;
  // A second of the drive's time, not of the bench's: however slow the sweeps are, that is less than it may fail.
  const auto now = [] { return std::chrono::steady_clock::now(); };
  std::optional<std::chrono::steady_clock::time_point> failsUntil;
  paced(bench, 400, [&](double t) {
    if (t > 50 && !failsUntil) failsUntil = now() + std::chrono::seconds(1);
    disk.writeError = failsUntil && now() < *failsUntil ? SQLITE_IOERR_WRITE : SQLITE_OK;
  });
  const RunResult result = record(plan(place, "idle 10s, soak 490s"), bench);
  CHECK(result.outcome == Outcome::Completed);
  CHECK(readBack(place, result.runId).log.timeS.size() == 1000);
}

TEST_CASE("aSlowDriveHoldsNeitherRulesNorSamplesUp") {
  const Place place;
  RecordingDisk disk;
  disk.syncMs = 250;
  FakeBench bench;
  paced(bench, 200);
  bench.temperature = [](double t, bool) { return t < 150 ? 60.0 : 110.0; };
  const RunResult result = record(plan(place, "soak 1h, cool 5s"), bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  // Five sweeps of 110 °C are two seconds of the bench's time; the drive would have taken longer than that each time.
  CHECK(readBack(place, result.runId).log.timeS.back() == Approx(152));
  CHECK(readBack(place, result.runId).log.timeS.size() == 305);
}

TEST_CASE("aBookThatVanishesIsToldOfAndTheLoadStops") {
  const Place place;
  FakeBench bench;
  RunPlan asked = plan(place, "soak 1h");
  {
    auto writer = [&] {
      RunInfo info;
      info.study = "s";
      info.setup = "mesh";
      info.load = "vector";
      REQUIRE(Book::create(place.book())->ensurePlace("s", {"mesh"}, {"vector"}));
      return RunWriter::begin(place.book(), info, bench.sources());
    }();
    REQUIRE(writer);
    writer->addSweep(0, 0, {50});
    CHECK(writer->commit(true));
    std::filesystem::rename(place.book(), place.path("elsewhere.ashbook"));
    writer->addSweep(0, 0.5, {50});
    const Status lost = writer->commit(true);
    REQUIRE_FALSE(lost);
    CHECK(lost.error().message.find("the book is no longer there") != std::string::npos);
    // Back again: nothing of what came meanwhile is lost.
    std::filesystem::rename(place.path("elsewhere.ashbook"), place.book());
    CHECK(writer->commit(true));
    CHECK(writer->finish(Outcome::Completed, ""));
  }
  CHECK(Book::open(place.book(), BookAccess::ReadOnly)->runs()->front().sampleCount == 2);
}

TEST_CASE("sleepIsAGapThatNoPhaseAndNoRuleCounts") {
  const Place place;
  FakeBench bench;
  double sleptS = 0;
  bench.slept = [&] { return sleptS; };
  // Asleep for ten minutes after 20 s of soaking: the bench's clock goes on.
  bench.clock = [&](double t) {
    if (t < 30) return t;
    sleptS = 600;
    return t + 600;
  };
  bench.temperature = [](double t, bool) { return t >= 29.5 && t < 632 ? 100.0 : 60.0; };
  RunPlan asked = withRule(place, "idle 10s, soak 1min, cool 10s", "cpu.temp > 98 for 60s");
  const RunResult result = record(asked, bench);
  CHECK(result.outcome == Outcome::Completed);
  const RunLog run = readBack(place, result.runId);
  CHECK(run.facts.phases[1].endS - run.facts.phases[1].startS == Approx(660));
  bool isTold = false;
  for (const Problem& problem : run.log.problems) {
    isTold |= problem.kind == ProblemKind::Gap &&
              problem.text == "The machine slept for 10 min; nothing was recorded meanwhile.";
  }
  CHECK(isTold);
}

TEST_CASE("aRuleThatNotesOrWarnsLetsTheRunGoOn") {
  const Place place;
  FakeBench bench;
  bench.temperature = [](double t, bool) { return std::fmod(t, 20) < 10 ? 60.0 : 80.0; };
  RunPlan asked = withRule(place, "soak 60s", "cpu.temp > 70 for 2s then note");
  asked.rules.push_back(*parseStopRule("cpu.temp > 75 for 3s then warn"));
  const RunResult result = record(asked, bench);
  CHECK(result.outcome == Outcome::Completed);
  CHECK(result.problems.size() == 3);
  const RunLog run = readBack(place, result.runId);
  // Three times hot, each time both rules.
  CHECK(textsOf(run, EventKind::Rule).size() == 6);
  CHECK(textsOf(run, EventKind::Rule)[0] == "Processor temperature was 80.0 °C for 2 s; the rule is 70 °C for 2 s.");
}

TEST_CASE("aRuleThatStopsTheLoadGoesOnWithTheRecovery") {
  const Place place;
  FakeBench bench;
  bench.temperature = [](double t, bool) { return t < 30 ? 60.0 : 90.0; };
  const RunResult result = record(
      withRule(place, "idle 10s, soak 5min, measure 5min, cool 20s", "cpu.temp > 85 for 1s then stop load"), bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  CHECK_FALSE(bench.isLoadOn);
  const RunLog run = readBack(place, result.runId);
  REQUIRE(run.facts.phases.size() == 3);
  CHECK(run.facts.phases[1].endS == Approx(31.5));
  CHECK(run.facts.phases[2].kind == PhaseKind::Cool);
  CHECK(run.facts.phases[2].endS - run.facts.phases[2].startS == Approx(20));
  CHECK(run.facts.reason == "Processor temperature was 90.0 °C for 1 s; the rule is 85 °C for 1 s.");
}

TEST_CASE("aWrongResultEndsTheRunUnlessItsRuleSaysOtherwise") {
  const Place place;
  FakeBench bench;
  bench.wrong = [&] { return bench.isLoadOn ? 3LL : 0LL; };
  CHECK(record(plan(place, "idle 5s, soak 1min"), bench).outcome == Outcome::LoadFailed);
  FakeBench tolerant;
  tolerant.wrong = [&] { return tolerant.isLoadOn ? 3LL : 0LL; };
  const RunResult result = record(withRule(place, "idle 5s, soak 1min", "wrong result then warn"), tolerant);
  CHECK(result.outcome == Outcome::Completed);
  REQUIRE(result.problems.size() == 1);
  CHECK(result.problems[0] == "The load found a wrong result: the machine computes wrongly at these settings.");
}

TEST_CASE("rubbishFromASensorIsNoReadingAndIsLostInTheEnd") {
  const Place place;
  FakeBench bench;
  bench.temperature = [](double t, bool) { return t < 20 ? 60.0 : 65261.85; };
  const RunResult result = record(plan(place, "soak 5min"), bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  CHECK(result.reason == "Processor temperature gave no reading for 10 s.");
  CHECK(readBack(place, result.runId).log.timeS.back() == Approx(30));
}

TEST_CASE("aFlickeringSensorDoesNotStartALimitAnew") {
  const Place place;
  FakeBench bench;
  int count = 0;
  bench.temperature = [&](double t, bool) { return t < 10 ? 60.0 : ++count % 2 == 0 ? kMissing : 99.0; };
  const RunResult result = record(withRule(place, "soak 5min", "cpu.temp > 98 for 4s"), bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  CHECK(readBack(place, result.runId).log.timeS.back() == Approx(14));
}

TEST_CASE("anInterruptedRunIsToldWithItsLastMinuteAndItsReason") {
  const Place place;
  FakeBench bench;
  RunLog run;
  std::string id;
  {
    // A run that was recorded whole, then made to look as if its recorder had been killed in another boot.
    bench.temperature = [](double t, bool) { return 60 + t / 4; };
    id = record(plan(place, "soak 160s"), bench).runId;
    sqlite3* database = nullptr;
    REQUIRE(sqlite3_open(place.book().c_str(), &database) == SQLITE_OK);
    sqlite3_exec(database, "UPDATE run SET outcome = 'running', recorder_boot = 'another'", nullptr, nullptr, nullptr);
    sqlite3_close(database);
  }
  auto book = Book::open(place.book(), BookAccess::ReadWrite);
  const auto closed = closeInterrupted(*book, place.path());
  REQUIRE(closed->size() == 1);
  const InterruptedRun& told = closed->front();
  CHECK(told.run.info.outcome == Outcome::MachineWentDown);
  // 60 + 159.5 / 4 = 99.9 °C at the end, with a limit of 105 °C: not near enough to be named.
  CHECK(told.run.info.reason == "The machine was started anew while the run was going on.");
  CHECK(told.lastMinute.timeS.front() == Approx(100));
  CHECK(told.lastMinute.timeS.back() == Approx(159.5));
  CHECK(tellingChannels(told.lastMinute, "cpu.temp", 6).front()->name == "cpu.temp");
  CHECK(closeInterrupted(*book, place.path())->empty());
  CHECK(book->runs()->front().info.outcome == Outcome::MachineWentDown);
}

TEST_CASE("aRunDownThatWentWithTheMachineIsCompleted") {
  struct Case {
    const char* phases;
    double last;
    Outcome outcome;
  };
  const Case one = GENERATE(Case{"idle 10s, measure battery empty ..150s", 3, Outcome::Completed},
                            Case{"idle 10s, measure battery empty ..150s", 40, Outcome::MachineWentDown},
                            Case{"idle 10s, measure battery 2% ..150s", 3, Outcome::MachineWentDown},
                            Case{"idle 10s, measure 150s", 3, Outcome::MachineWentDown});
  INFO(one.phases << " " << one.last);
  const Place place;
  FakeBench bench({"battery.charge", Quantity::Percent, "%"});
  bench.temperature = [&](double t, bool) { return 100 - (100 - one.last) * t / 159.5; };
  REQUIRE(record(plan(place, one.phases), bench).outcome == Outcome::Completed);
  sqlite3* database = nullptr;
  REQUIRE(sqlite3_open(place.book().c_str(), &database) == SQLITE_OK);
  sqlite3_exec(database, "UPDATE run SET outcome = 'running', recorder_boot = 'another'", nullptr, nullptr, nullptr);
  sqlite3_close(database);
  auto book = Book::open(place.book(), BookAccess::ReadWrite);
  const auto closed = closeInterrupted(*book, place.path());
  REQUIRE(closed->size() == 1);
  CHECK(closed->front().run.info.outcome == one.outcome);
  CHECK(book->runs()->front().info.outcome == one.outcome);
  if (one.outcome == Outcome::Completed)
    CHECK(closed->front().run.info.reason == "The battery ran empty: it was at 3 % at 2:40, the last reading.");
}

TEST_CASE("theReasonNamesBatteryHeatMemoryAndAnIdleLoad") {
  RunSummary went;
  went.info.outcome = Outcome::MachineWentDown;
  RunLog run;
  run.log.timeS = {0, 1, 2, 3};
  run.log.channels.push_back({"cpu.temp", Quantity::Temperature, "°C", {90, 99, 102.5, 103}, "cpu.temp", 0});
  run.facts.limits["cpu.temp"] = {{"critical", 105}};
  CHECK(reasonOfInterruption(went, run, "") ==
        "The machine was started anew while the run was going on. Processor temperature was 103.0\u202F°C, 2.0\u202FK "
        "below its "
        "critical limit.");
  Event low;
  low.kind = EventKind::Fault;
  low.extra = {{"source", "battery"}, {"failure", "low"}, {"percent", 2.0}};
  run.facts.events.push_back(low);
  CHECK(reasonOfInterruption(went, run, "") ==
        "The machine went down: its battery was at 2 % and most likely ran empty.");
  RunSummary died;
  died.info.outcome = Outcome::RecorderDied;
  died.info.recorderPid = 77;
  run.facts.phases.push_back({PhaseKind::Soak, 0, 3, true});
  run.log.channels.push_back({"work.rate", Quantity::Rate, "1/s", {200, 0, 0, 0}, "work.rate", 0});
  CHECK(
      reasonOfInterruption(died, run, "") ==
      "The recorder (process 77) was killed or crashed before it closed the run. The load had done nothing for 2 s by "
      "then.");
  CHECK(reasonOfInterruption(died, run, "Out of memory: Killed process 77 (ashg)") ==
        "The kernel ended the recorder (process 77) for want of memory. The load had done nothing for 2 s by then.");
}
