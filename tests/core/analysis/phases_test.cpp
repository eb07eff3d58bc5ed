// SPDX-License-Identifier: GPL-3.0-or-later
// Phases and windows of logs that nobody described.
#include "analysis/phases/phases.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// A log of 10 min with one channel that is busy between two times.
LogMaker busy(const std::string& role, double rest, double work, double fromS, double toS) {
  LogMaker maker(600, 0.5);
  maker.add(role, [=](double t) { return t >= fromS && t < toS ? work : rest; });
  return maker;
}

std::optional<TimeSpan> loadOf(const LogMaker& maker) {
  const Activity activity = activityOf(maker.run);
  const auto loads = loadPhases(maker.run, phasesOf(maker.run, activity), activity);
  return loads.empty() ? std::nullopt : std::optional(loads.back());
}

}  // namespace

TEST_CASE("loadIsFoundFromAnyReadingThatTellsWorkFromRest") {
  const struct {
    const char* role;
    double rest, work;
  } rows[] = {{"cpu.power", 10, 80},    {"cpu.load", 2, 100},  {"gpu.load", 0, 98},
              {"gpu.power", 9, 115},    {"work.rate", 0, 560}, {"wall.power", 48, 140},
              {"battery.power", 6, 28}, {"frame.rate", 0, 61}, {"storage.write", 0, 900}};
  for (const auto& row : rows) {
    INFO(row.role);
    const auto load = loadOf(busy(row.role, row.rest, row.work, 60, 500));
    REQUIRE(load);
    CHECK(load->startS == 60);
    CHECK(load->endS == 500);
  }
}

TEST_CASE("aBriefBurstIsNoLoadPhase") {
  CHECK_FALSE(loadOf(busy("cpu.power", 10, 60, 100, 110)));
  // A burst before the load does not begin it.
  LogMaker maker(600, 0.5);
  maker.add("cpu.power", [](double t) { return (t >= 20 && t < 26) || (t >= 60 && t < 500) ? 80.0 : 10.0; });
  CHECK(loadOf(maker)->startS == 60);
}

TEST_CASE("aShortPauseDoesNotEndALoad") {
  LogMaker maker(600, 0.5);
  maker.add("cpu.power", [](double t) { return t >= 60 && t < 500 && !(t >= 200 && t < 206) ? 80.0 : 10.0; });
  CHECK(loadOf(maker)->startS == 60);
  CHECK(loadOf(maker)->endS == 500);
}

TEST_CASE("aLogThatIsBusyFromBeginToEndIsAllLoad") {
  const auto load = loadOf(busy("cpu.load", 99, 99, 0, 600));
  REQUIRE(load);
  CHECK(load->startS == 0);
  CHECK(load->lengthS() == Approx(600));
}

TEST_CASE("temperaturesAloneTellNoLoad") {
  LogMaker maker(600, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 80.0; });
  CHECK_FALSE(loadOf(maker));
}

TEST_CASE("aGivenSoakWithoutLoadIsNone") {
  auto maker = busy("cpu.power", 10, 80, 400, 500);
  maker.phase(PhaseKind::Soak, 50, 300);
  CHECK_FALSE(loadOf(maker));
  maker.phase(PhaseKind::Measure, 390, 500);
  CHECK(loadOf(maker));
}

TEST_CASE("theLoadBeginsWithItsFirstSample") {
  auto maker = busy("cpu.power", 10, 80, 60, 500);
  maker.phase(PhaseKind::Soak, 59.8, 500);
  CHECK(loadOf(maker)->startS == 60);
}

TEST_CASE("unsettledLoadsGetTheirLastFifth") {
  LogMaker maker(600, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 100 ? 35.0 : 35 + 0.05 * (t - 100); });
  maker.add("cpu.power", [](double t) { return t < 100 ? 10.0 : 80.0; });
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.window);
  CHECK(figures.window->reason == "last part of load");
  CHECK(figures.window->span.startS == Approx(500).margin(1));
  bool isSaid = false;
  for (const Problem& problem : figures.problems) isSaid |= problem.kind == ProblemKind::NotSettled;
  CHECK(isSaid);
}

TEST_CASE("theWatchedTemperatureIsTheStatedOneElseTheProcessorElseAnyUnderLoad") {
  const auto watched = [](LogMaker maker, const std::string& stated) {
    maker.run.facts.watched = stated;
    return analyzeRun(maker.run).watched;
  };
  LogMaker maker(60, 1);
  const auto flat = [](double) { return 30.0; };
  maker.add("room.temp", flat).add("gpu.temp", flat).add("storage.temp", flat);
  CHECK(watched(maker, "") == "gpu.temp");
  CHECK(watched(maker, "storage.temp") == "storage.temp");
  CHECK(watched(maker, "no.such") == "gpu.temp");
  maker.add("cpu.temp", flat);
  CHECK(watched(maker, "") == "cpu.temp");
}

namespace {

/// Loads of 80 W at the given times, the die following by two time constants.
LogMaker loadsAt(const std::vector<TimeSpan>& busy, double lengthS, double slowK = 25) {
  LogMaker maker(lengthS, 1);
  const auto isBusy = [busy](double t) {
    return std::any_of(busy.begin(), busy.end(), [t](const TimeSpan& span) { return span.contains(t); });
  };
  double fast = 0, slow = 0;
  maker.add("cpu.temp", [=](double t) mutable {
    fast += (isBusy(t) - fast) / 15;
    slow += (isBusy(t) - slow) / 300;
    return 30 + 20 * fast + slowK * slow;
  });
  maker.add("cpu.power", [=](double t) { return isBusy(t) ? 80.0 : 10.0; });
  maker.add("room.temp", [](double) { return 22.0; });
  return maker;
}

std::vector<TimeSpan> soaksOf(const Figures& figures) {
  std::vector<TimeSpan> soaks;
  for (const PhaseSpan& phase : figures.phases) {
    if (phase.kind == PhaseKind::Soak) soaks.push_back({phase.startS, phase.endS});
  }
  return soaks;
}

const Problem* problemOf(const Figures& figures, ProblemKind::Known kind) {
  for (const Problem& problem : figures.problems) {
    if (problem.kind == kind) return &problem;
  }
  return nullptr;
}

}  // namespace

TEST_CASE("aLongRestPartsTwoLoadsAndTheLastIsQuoted") {
  const LogMaker maker = loadsAt({{100, 1900}, {3100, 4900}, {6100, 7900}}, 9000);
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(soaksOf(figures).size() == 3);
  CHECK(soaksOf(figures)[1].startS == 3100);
  CHECK(soaksOf(figures)[1].endS == 4900);
  REQUIRE(figures.load);
  CHECK(figures.load->startS == 6100);
  CHECK(figures.load->endS == 7900);
  CHECK(figures.window->span.startS >= 6100);
  const Problem* several = problemOf(figures, ProblemKind::SeveralLoads);
  REQUIRE(several != nullptr);
  CHECK(several->text.find("3 loads") != std::string::npos);
  CHECK(several->text.find("--load-number") != std::string::npos);
  CHECK(figures.phases.front().kind == PhaseKind::Idle);
  CHECK(figures.phases[2].kind == PhaseKind::Cool);
}

TEST_CASE("anotherLoadIsTakenByItsNumber") {
  const LogMaker maker = loadsAt({{100, 1900}, {3100, 4900}, {6100, 7900}}, 9000);
  const Figures second = analyzeRun(maker.run, 2);
  REQUIRE(second.load);
  CHECK(second.load->startS == 3100);
  CHECK(second.window->span.endS == 4900);
  CHECK(problemOf(second, ProblemKind::SeveralLoads)->text.find("number 2") != std::string::npos);
  CHECK(analyzeRun(maker.run, 1).load->startS == 100);
}

TEST_CASE("aRestInWhichItCoolsByHalfPartsTwoLoads") {
  // 300 s are a sixth of the load before, and the die alone falls by 20 of 45 K at once.
  const Figures parted = analyzeRun(loadsAt({{100, 1900}, {2200, 4000}}, 4200).run);
  CHECK(soaksOf(parted).size() == 2);
  // Where most of the rise is in slow metal the same rest parts nothing.
  const Figures whole = analyzeRun(loadsAt({{100, 1900}, {2030, 3800}}, 4000, 200).run);
  REQUIRE(soaksOf(whole).size() == 1);
  CHECK(whole.load->startS == 100);
  CHECK(whole.load->endS == 3800);
  CHECK(problemOf(whole, ProblemKind::SeveralLoads) == nullptr);
}

TEST_CASE("pausesAndPassesArePartsOfOneLoad") {
  // The die falls by more than half of its rise within a pause of a minute.
  CHECK(soaksOf(analyzeRun(loadsAt({{100, 1300}, {1360, 2500}}, 2600, 5).run)).size() == 1);
  std::vector<TimeSpan> passes;
  for (int pass = 0; pass < 12; ++pass) passes.push_back({100.0 + 85 * pass, 160.0 + 85 * pass});
  LogMaker undescribed = loadsAt(passes, 1300, 5);
  const Figures detected = analyzeRun(undescribed.run);
  CHECK(soaksOf(detected).size() == 1);
  CHECK(detected.load->endS == Approx(160 + 85 * 11));
  // Two passes alone could be two loads; a sidecar that says they are passes settles it.
  LogMaker two = loadsAt({{100, 220}, {300, 420}}, 600, 5);
  CHECK(soaksOf(analyzeRun(two.run)).size() == 2);
  two.run.facts.passes = {{100, 220, 10, {}}, {300, 420, 11, {}}};
  CHECK(soaksOf(analyzeRun(two.run)).size() == 1);
}

TEST_CASE("aShortLastLoadIsNotTheOneThatIsQuoted") {
  const Figures figures = analyzeRun(loadsAt({{100, 3700}, {6000, 6150}}, 6300).run);
  CHECK(soaksOf(figures).size() == 2);
  CHECK(figures.load->startS == 100);
  CHECK(problemOf(figures, ProblemKind::SeveralLoads)->text.find("number 1") != std::string::npos);
}

TEST_CASE("givenPhasesThatARestPartsAreSeveralLoads") {
  LogMaker maker = loadsAt({{100, 900}, {1500, 2300}}, 2500);
  maker.phase(PhaseKind::Soak, 100, 600).phase(PhaseKind::Measure, 600, 900).phase(PhaseKind::Cool, 900, 1500);
  maker.phase(PhaseKind::Soak, 1500, 2000).phase(PhaseKind::Measure, 2000, 2300);
  const Figures figures = analyzeRun(maker.run);
  CHECK(figures.loads.size() == 2);
  CHECK(figures.load->startS == 1500);
  CHECK(figures.window->span.startS == 2000);
  CHECK(analyzeRun(maker.run, 1).window->span.startS == 600);
}
