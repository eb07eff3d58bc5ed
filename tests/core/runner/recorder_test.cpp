// SPDX-License-Identifier: GPL-3.0-or-later
// The recorder on the simulated bench: whole runs, and benches that fail on purpose.
#include <catch2/catch.hpp>
#include <cmath>
#include <thread>

#include "analysis/analyze.h"
#include "book/book.h"
#include "runner/run_client.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"
#include "tests/support/recording.h"

using namespace ash;

using namespace ash::tests;

TEST_CASE("aWholeRunIsRecordedFromRestToRecovery") {
  const Place place;
  auto bench = larch();
  const RunResult result = record(plan(place, "idle 1min, soak settled 5min..40min, measure 5min, cool 1min"), bench);
  CHECK(result.outcome == Outcome::Completed);
  CHECK(result.problems.empty());
  const RunLog run = readBack(place, result.runId);
  REQUIRE(run.facts.phases.size() == 4);
  CHECK(run.facts.phases[0].startS == 0);
  CHECK(run.facts.phases[0].endS == Approx(60));
  const PhaseSpan& soak = run.facts.phases[1];
  CHECK(soak.endS - soak.startS < 2300);
  CHECK(soak.endS - soak.startS > 300);
  CHECK(run.facts.phases[2].endS - run.facts.phases[2].startS == Approx(300));
  CHECK(run.facts.phases[3].endS == Approx(run.log.timeS.back() + 0.5));
  const Figures figures = analyzeRun(run);
  CHECK(figures.channel("cpu.temp")->settled->isSettled);
  // Not one sample under load before the soak, none without it in the soak.
  CHECK(figures.channel("cpu.load")->load.min > 90);
  CHECK(figures.channel("cpu.load")->idle.max < 5);
  CHECK(Book::open(place.book(), BookAccess::ReadOnly)->check()->empty());
}

TEST_CASE("theSettledFigureIsWhereTheBenchReallyEnds") {
  const Place place;
  auto bench = larch("mesh", 3);
  const RunResult result = record(plan(place, "idle 1min, soak settled 5min..60min, measure 5min"), bench);
  const Figures figures = analyzeRun(readBack(place, result.runId));
  sim::Bench truth(*sim::loadBench("larch12", "mesh"), 1);
  truth.setLoad("vector", 1);
  truth.advanceTo(4 * 3600);
  CHECK(figures.channel("cpu.temp")->overAmbientK.value() == Approx(truth.nodeC(0) - truth.roomC()).margin(0.6));
}

TEST_CASE("theSameSeedGivesTheSameSamplesAtAnySpeed") {
  const Place place;
  std::vector<std::vector<double>> all;
  for (const double speed : {1e6, 300.0}) {
    auto bench = larch("mesh", 42, speed);
    const RunResult result = record(plan(place, "idle 20s, soak 2min, cool 20s"), bench);
    const RunLog run = readBack(place, result.runId);
    std::vector<double> values = run.log.timeS;
    for (const Channel& channel : run.log.channels)
      values.insert(values.end(), channel.values.begin(), channel.values.end());
    all.push_back(values);
  }
  CHECK(all[0] == all[1]);
}

TEST_CASE("aStopRuleEndsLoadAndRun") {
  const Place place;
  auto bench = larch("solid");
  RunPlan watched = plan(place, "idle 10s, soak 10min", "solid");
  watched.rules.push_back(*parseStopRule("cpu.temp > 60 for 3s"));
  const RunResult result = record(watched, bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  CHECK(result.reason.find("the rule is 60 °C for 3 s.") != std::string::npos);
  const RunLog run = readBack(place, result.runId);
  const auto& values = run.log.find("cpu.temp")->values;
  size_t above = 0;
  for (size_t i = values.size(); i-- > 0 && values[i] > 60;) ++above;
  CHECK(above == 7);  // 3 s at two samples a second, both ends counted
  CHECK(run.facts.outcome == Outcome::StoppedByRule);
}

TEST_CASE("aLimitSensorThatStopsAnsweringEndsTheLoad") {
  const Place place;
  FakeBench bench;
  bench.temperature = [](double t, bool) { return t < 30 ? 50.0 : kMissing; };
  const RunResult result = record(plan(place, "idle 5s, soak 10min"), bench);
  CHECK(result.outcome == Outcome::StoppedByRule);
  CHECK(result.reason == "Processor temperature gave no reading for 10 s.");
  CHECK_FALSE(bench.isLoadOn);
  CHECK(readBack(place, result.runId).log.timeS.back() == Approx(40));
}

TEST_CASE("unwatchedKeepsItsReasonAndDropsTheDefaultRules") {
  const Place place;
  FakeBench bench;
  bench.temperature = [](double, bool) { return 110.0; };
  RunPlan unwatched = plan(place, "soak 10s");
  unwatched.unwatchedReason = "the sensor is known to be wrong";
  CHECK(record(unwatched, bench).outcome == Outcome::Completed);
  const auto runs = *Book::open(place.book(), BookAccess::ReadOnly)->runs();
  CHECK(runs[0].info.unwatchedReason == "the sensor is known to be wrong");
  FakeBench watchedBench;
  watchedBench.temperature = bench.temperature;
  CHECK(record(plan(place, "soak 10s"), watchedBench).outcome == Outcome::StoppedByRule);
}

TEST_CASE("aLoadThatFailsIsTheOutcome") {
  const Place place;
  FakeBench dies;
  dies.failAfter = 30;
  const RunResult result = record(plan(place, "soak 1min"), dies);
  CHECK(result.outcome == Outcome::LoadFailed);
  CHECK(result.reason == "The load was ended by signal 9.");
  FakeBench never;
  never.startFailure = "Cannot start the load.";
  CHECK(record(plan(place, "idle 1s, soak 1min"), never).outcome == Outcome::LoadFailed);
}

TEST_CASE("aRunIsStoppedByHandFromAnotherThread") {
  const Place place;
  auto bench = larch("mesh", 1, 60);
  RunRecorder recorder(plan(place, "soak 1h"), bench);
  std::jthread hand([&] {
    std::this_thread::sleep_for(std::chrono::milliseconds(300));
    recorder.requestStop("Stopped by hand (Ctrl-C).");
  });
  const auto result = recorder.run([](const RunProgress&) {});
  REQUIRE(result);
  CHECK(result->outcome == Outcome::StoppedByHand);
  CHECK(result->reason == "Stopped by hand (Ctrl-C).");
}

TEST_CASE("theSocketListsNotesEndsPhasesAndStops") {
  const Place place;
  auto bench = larch("mesh", 1, 20);
  RunPlan asked = plan(place, "idle 10min, soak 1h");
  asked.runId = "rsocket";
  RunRecorder recorder(asked, bench);
  std::jthread asker([] {
    for (int i = 0; i < 200 && listRuns()->empty(); ++i) std::this_thread::sleep_for(std::chrono::milliseconds(10));
    const auto runs = listRuns();
    CHECK(runs->size() == 1);
    CHECK(runs->front().value("setup", "") == "mesh");
    CHECK((*askRun("rsocket", {{"do", "note"}, {"text", "coil whine"}}))["ok"] == true);
    CHECK((*askRun("rsocket", {{"do", "dance"}}))["ok"] == false);
    CHECK((*askRun("rsocket", {{"do", "extend"}, {"seconds", "many"}}))["why"] ==
          "\"extend\" needs \"seconds\" from 0 to 86400.");
    CHECK((*askRun("rsocket", {{"do", 5}}))["ok"] == false);
    CHECK((*askRun("rsocket", {{"do", "end phase"}}))["ok"] == true);
    std::this_thread::sleep_for(std::chrono::milliseconds(300));
    CHECK((*askRun("rsocket", {{"do", "stop"}}))["ok"] == true);
  });
  const auto result = recorder.run([](const RunProgress&) {});
  asker.join();
  CHECK(result->outcome == Outcome::StoppedByHand);
  const RunLog run = readBack(place, "rsocket");
  CHECK(run.facts.phases.size() == 2);
  bool hasNote = false;
  for (const Event& event : run.facts.events) hasNote |= event.kind == EventKind::Note && event.text == "coil whine";
  CHECK(hasNote);
  CHECK_FALSE(askRun("rsocket", {{"do", "stop"}}));
  CHECK(askRun("../../etc", {{"do", "stop"}}).error().message.find("No recording") == 0);
  CHECK(listRuns()->empty());
}

TEST_CASE("aBookThatCannotBeWrittenIsToldBeforeAnyLoad") {
  FakeBench bench;
  const Place place;
  RunPlan nowhere = plan(place, "soak 10s");
  nowhere.bookPath = "/no/such/folder/b.ashbook";
  RunRecorder recorder(nowhere, bench);
  const auto result = recorder.run([](const RunProgress&) {});
  REQUIRE_FALSE(result);
  CHECK(result.error().kind == ErrorKind::Environment);
  CHECK_FALSE(bench.isLoadOn);
}

TEST_CASE("aBenchWithoutThatLoadSaysWhichItHas") {
  const Place place;
  auto bench = larch();
  RunPlan wrong = plan(place, "soak 10s");
  wrong.load.kind = LoadKind::Storage;
  const RunResult result = record(wrong, bench);
  CHECK(result.outcome == Outcome::LoadFailed);
  CHECK(result.reason == "The bench larch12 knows no load \"storage\"; it has: graphics, integer, mixed, vector.");
}
