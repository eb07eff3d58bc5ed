// SPDX-License-Identifier: GPL-3.0-or-later
// Phases and windows of logs that nobody described.
#include "analysis/phases/phases.h"

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
  return loadPhase(maker.run, phasesOf(maker.run, activity), activity);
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
