// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/analyze.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/figures_json.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

bool hasProblem(const Figures& figures, const std::string& kind, const std::string& channel = "*") {
  for (const Problem& problem : figures.problems) {
    if (problem.kind.text() == kind && (channel == "*" || problem.channel == channel)) return true;
  }
  return false;
}

/// 60 s rest, 900 s load at 80 W, 60 s after.
LogMaker loadedLog(const WarmUp& warm = {}) {
  LogMaker maker(1020, 0.5);
  const auto isLoad = [](double t) { return t >= 60 && t < 960; };
  maker.add("cpu.temp", [f = warm.function(), isLoad](double t) mutable { return isLoad(t) || t < 60 ? f(t) : 40.0; });
  maker.add("cpu.power", [isLoad](double t) { return isLoad(t) ? 80.0 : 10.0; });
  maker.add("cpu.load", [isLoad](double t) { return isLoad(t) ? 100.0 : 1.0; });
  maker.add("room.temp", [](double) { return 22.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}, {"critical", 105}};
  return maker;
}

}  // namespace

TEST_CASE("givenMeasurePhaseIsTheWindow") {
  auto maker = loadedLog();
  maker.phase(PhaseKind::Idle, 0, 60)
      .phase(PhaseKind::Soak, 60, 700)
      .phase(PhaseKind::Measure, 700, 960)
      .phase(PhaseKind::Cool, 960, 1020);
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.window);
  CHECK(figures.window->reason == "measure phase");
  CHECK(figures.window->span.startS == 700);
  CHECK(figures.window->span.endS == 960);
  CHECK(figures.load->startS == 60);
  CHECK(figures.load->endS == 960);
  CHECK(figures.channel("cpu.power")->window.n == 520);
}

TEST_CASE("withoutPhasesTheLoadIsFoundFromPowerAndTheWindowFromSettling") {
  const Figures figures = analyzeRun(loadedLog().run);
  REQUIRE(figures.load);
  CHECK(figures.load->startS == Approx(60).margin(0.5));
  CHECK(figures.load->endS == Approx(960).margin(0.5));
  REQUIRE(figures.phases.size() == 3);
  CHECK_FALSE(figures.phases[1].isGiven);
  REQUIRE(figures.window);
  CHECK(figures.window->reason == "settled");
  // Half a kelvin is left 120·ln(100) = 553 s into the load.
  CHECK(figures.window->span.startS == Approx(613).margin(60));
}

TEST_CASE("overRoomHeadroomAndResistanceFollowTheirFormulas") {
  auto maker = loadedLog();
  maker.phase(PhaseKind::Soak, 60, 900).phase(PhaseKind::Measure, 900, 960);
  const Figures figures = analyzeRun(maker.run);
  // Settled at 22 + 12 + 50 = 84 °C but for 50·exp(−870/120) = 0.04 K.
  const ChannelFigures* cpu = figures.channel("cpu.temp");
  CHECK(cpu->overAmbientK.value() == Approx(62).margin(0.1));
  CHECK(cpu->headroomK.value() == Approx(95 - 84).margin(0.1));
  REQUIRE(figures.heat.size() == 1);
  const Heat& heat = figures.heat[0];
  CHECK(heat.powerW.value() == Approx(80));
  CHECK(heat.resistance->value == Approx(62.0 / 80).margin(0.002));
  CHECK(heat.headroomW->value == Approx((95 - 22) / (62.0 / 80) - 80).margin(0.4));
  CHECK(heat.hottestRoomC->value == Approx(95 - 62).margin(0.1));
}

TEST_CASE("withoutAnyRoomThereIsNothingOverRoom") {
  auto maker = loadedLog();
  std::erase_if(maker.run.log.channels, [](const Channel& c) { return c.name == "room.temp"; });
  const Figures none = analyzeRun(maker.run);
  CHECK_FALSE(none.channel("cpu.temp")->overAmbientK);
  CHECK(hasProblem(none, "missing_room"));
  maker.run.facts.conditions["room_c"] = 20.0;
  const Figures stated = analyzeRun(maker.run);
  CHECK(stated.channel("cpu.temp")->overAmbientK.value() == Approx(64).margin(0.3));
  CHECK_FALSE(hasProblem(stated, "missing_room"));
}

TEST_CASE("energyIsTheIntegralOfPower") {
  auto maker = loadedLog();
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 960).phase(PhaseKind::Cool, 960, 1020);
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.energy.size() == 1);
  CHECK(figures.energy[0].loadJ.value() == Approx(80 * 900.0).epsilon(1e-3));
  CHECK(figures.energy[0].totalJ.value() == Approx(80 * 900.0 + 10 * 119.5).epsilon(1e-3));
}

TEST_CASE("aGapIsLeftOutOfTheEnergyAndReported") {
  auto maker = loadedLog();
  for (size_t i = 0; i < maker.run.log.timeS.size(); ++i) {
    if (maker.run.log.timeS[i] >= 400 && maker.run.log.timeS[i] < 430) maker.run.log.channels[1].values[i] = kMissing;
  }
  const Figures figures = analyzeRun(maker.run);
  CHECK(hasProblem(figures, "gap", "cpu.power"));
  CHECK(figures.energy[0].totalJ.value() == Approx(80 * (900.0 - 30.5) + 10 * 119.5).epsilon(1e-3));
}

TEST_CASE("aSpikeIsLeftOutAndAnExcursionStays") {
  auto maker = loadedLog();
  maker.phase(PhaseKind::Soak, 60, 960);
  auto& values = maker.run.log.channels[0].values;
  values[1000] = 127;
  const Figures figures = analyzeRun(maker.run);
  CHECK(hasProblem(figures, "spike", "cpu.temp"));
  CHECK(figures.channel("cpu.temp")->load.max < 90);
  // Two readings in a row may be real: they stay.
  values[1000] = values[1001] = values[1002] = 91;
  CHECK(analyzeRun(maker.run).channel("cpu.temp")->load.max == 91);
}

TEST_CASE("heatThrottlingIsToldFromTheSetPowerLimit") {
  auto maker = LogMaker(660, 0.5);
  const auto isLoad = [](double t) { return t >= 60; };
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : t < 360 ? 90.0 : 94.8; });
  maker.add("cpu.clock", [](double t) { return t < 60 ? 1200.0 : t < 360 ? 4500.0 : 4200.0; });
  maker.add("cpu.power", [isLoad](double t) { return isLoad(t) ? (t < 360 ? 80.0 : 72.0) : 9.0; });
  maker.add("room.temp", [](double) { return 22.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  maker.run.facts.limits["cpu.power"] = {{"sustained", 88}};
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 660);
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.throttling.size() == 1);
  const Throttling& hot = figures.throttling[0];
  CHECK(hot.shareThermal == Approx(0.5).margin(0.01));
  CHECK(hot.timeToLimitS.value() == Approx(300).margin(1));
  CHECK(hot.lostClockShare == Approx(300.0 / 4500).margin(1e-3));
  REQUIRE(hot.intervals.size() == 1);
  CHECK(hot.intervals[0].depthMhz == Approx(300).margin(1));
  // Wanted power is what it drew before heat held it back.
  CHECK(figures.heat[0].wantedPowerW.value() == Approx(80).margin(0.1));
  CHECK(figures.heat[0].headroomW->value < 0);
}

TEST_CASE("aPowerLimitOfThePlanIsPlanned") {
  auto maker = LogMaker(660, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 80.0; });
  maker.add("cpu.clock", [](double t) { return t < 60 ? 1200.0 : t < 88 ? 4900.0 : 4300.0; });
  maker.add("cpu.power", [](double t) { return t < 60 ? 9.0 : t < 88 ? 120.0 : 88.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  maker.run.facts.limits["cpu.power"] = {{"sustained", 88}, {"short", 120}};
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 660);
  CHECK_FALSE(analyzeRun(maker.run).throttling.at(0).intervals.at(0).isPlanned);
  maker.run.facts.conditions["power_limit_w"] = 88;
  const Throttling planned = analyzeRun(maker.run).throttling.at(0);
  REQUIRE(planned.intervals.size() == 1);
  CHECK(planned.intervals[0].cause == Cause::Power);
  CHECK(planned.intervals[0].isPlanned);
  CHECK(planned.sharePower == Approx(572.0 / 600).margin(0.01));
  CHECK(planned.shareThermal == 0);
}

TEST_CASE("fansThatRampAndMoveAreNoticed") {
  auto maker = loadedLog();
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 700).phase(PhaseKind::Measure, 700, 960);
  maker.add("fan.cpu", [](double t) { return t < 90 ? 600.0 : 1400.0; });
  maker.add("fan.rear", [](double t) { return t < 800 ? 1000.0 : 1200.0; });
  const Figures figures = analyzeRun(maker.run);
  CHECK(figures.fans[0].rampAtS.value() == Approx(90).margin(0.5));
  CHECK(figures.fans[0].heldConstant.value());
  CHECK_FALSE(figures.fans[1].heldConstant.value());
  CHECK(hasProblem(figures, "fan_moved", "fan.rear"));
}

TEST_CASE("passesAndTheirStability") {
  auto maker = loadedLog();
  maker.run.facts.passes = {{60, 120, 1512, {}}, {120, 180, 1500, {}}, {180, 240, 1431, {}}, {240, 300, 1440, {}}};
  const Figures figures = analyzeRun(maker.run);
  CHECK(figures.passes->count == 4);
  CHECK(figures.passes->stabilityPercent == Approx(100.0 * 1431 / 1512));
  // Score per watt: the mean over passes of score over power.
  CHECK(figures.efficiency.powerRole == "cpu.power");
  CHECK(figures.efficiency.scorePerWatt.value() == Approx((1512 + 1500 + 1431 + 1440) / 4.0 / 80));
  maker.run.facts.lowerScoreIsBetter = true;
  CHECK(analyzeRun(maker.run).passes->stabilityPercent == Approx(100.0 * 1431 / 1512));
  CHECK(analyzeRun(maker.run).passes->best == 1431);
}

TEST_CASE("aLogWithoutLoadHasNoWindow") {
  auto maker = LogMaker(300, 0.5);
  maker.add("cpu.temp", [](double) { return 35.0; }).add("cpu.power", [](double) { return 9.5; });
  const Figures figures = analyzeRun(maker.run);
  CHECK_FALSE(figures.load);
  CHECK_FALSE(figures.window);
  CHECK(figuresToJson(figures)["window"].is_null());
}

TEST_CASE("everyKeyOfTheContractIsThere") {
  const Json json = figuresToJson(analyzeRun(loadedLog().run));
  for (const char* key : {"contract", "figures_method", "samples", "duration_s", "interval_s", "problems", "phases",
                          "window", "channels", "throttling", "energy_j", "heat", "passes", "efficiency", "fans"}) {
    INFO(key);
    CHECK(json.contains(key));
  }
  const Json& cpu = json["channels"]["cpu.temp"];
  for (const char* key : {"unit", "idle", "load", "window", "over_ambient_k", "limit", "headroom_k", "settled"})
    CHECK(cpu.contains(key));
  for (const char* key : {"n", "mean", "sd", "se", "min", "p05", "median", "p95", "max", "first_max_at_s"})
    CHECK(cpu["window"].contains(key));
  for (const char* key :
       {"is_settled", "at_s", "remaining_k", "forecast", "forecast_low", "forecast_high", "time_constants_s"})
    CHECK(cpu["settled"].contains(key));
  CHECK(json["channels"]["cpu.power"]["settled"].is_null());
  CHECK(json["channels"]["cpu.power"]["limit"].is_null());
  CHECK(json["passes"].is_null());
  CHECK(json["contract"] == 1);
}
