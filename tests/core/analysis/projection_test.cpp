// SPDX-License-Identifier: GPL-3.0-or-later
// Runs carried over to other rooms, powers and fan speeds, held against where simulated benches really end.
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "analysis/figures_json.h"
#include "analysis/heat/operating_point.h"
#include "tests/support/known_logs.h"
#include "tests/support/projection_bench.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// Half a watt per kelvin to the room, settled, limit 90 °C; 8 W at rest. `ghz` of the load's clock by time.
template <typename Watts, typename Mhz>
RunLog straight(Watts watts, Mhz mhz) {
  LogMaker maker(1500, 1);
  maker.add("cpu.power", [=](double t) { return t < 60 ? 8.0 : watts(t); });
  maker.add("cpu.load", [](double t) { return t < 60 ? 1.0 : 99.0; });
  maker.add("cpu.clock", [=](double t) { return t < 60 ? 800.0 : mhz(t); });
  maker.add("cpu.temp",
            [=](double t) { return 20 + 0.5 * (t < 60 ? 8 : 8 + (80 - 8) * (1 - std::exp(-(t - 60) / 60))); });
  maker.add("room.temp", [](double) { return 20.0; }).add("fan.cpu", [](double) { return 1000.0; });
  maker.run.facts.limits["cpu.temp"]["throttle"] = 90;
  return maker.run;
}

RunLog steady() {
  return straight([](double) { return 80.0; }, [](double) { return 4000.0; });
}

/// What of many was inside its interval.
struct Coverage {
  int asked = 0, inside = 0;
  void add(const Estimate& told, double truth) {
    ++asked;
    inside += told.low <= truth && truth <= told.high;
  }
  double share() const { return static_cast<double>(inside) / std::max(1, asked); }
};

}  // namespace

TEST_CASE("leakageGrowsEFoldAndItsSlopeIsOneWhereItStarts") {
  CHECK(leakGrowth(60, 60, 45) == 0);
  CHECK(leakGrowth(60, 60.01, 45) == Approx(0.01).epsilon(0.001));
  CHECK(leakGrowth(60, 105, 45) == Approx(45 * (std::exp(1.0) - 1)));
  CHECK(leakGrowth(60, 15, 45) == Approx(45 * (std::exp(-1.0) - 1)));
  CHECK(leakGrowth(60, 400, 45) == leakGrowth(60, 150, 45));  // bounded, whatever is asked
}

TEST_CASE("aSlopeHasTheErrorOfTheTextbook") {
  // y = 2 + 3x with residuals ±1 in turn, x = 0 … 39: Σ(x−x̄)² = n(n²−1)/12 = 5330; s² = Σr²/(n−2).
  std::vector<double> x, y;
  for (int i = 0; i < 40; ++i) {
    x.push_back(i);
    y.push_back(2 + 3 * i + (i % 2 == 0 ? 1 : -1));
  }
  const Spread slope = slopeOf(x, y, 1);
  const double offSlope = -20.0 / 5330;  // Σ(x−x̄)(±1) = −n/2
  CHECK(slope.mean == Approx(3 + offSlope).epsilon(1e-9));
  const double residuals = 40 - offSlope * offSlope * 5330;
  CHECK(slope.sd == Approx(std::sqrt(residuals / 38 / 5330)).epsilon(1e-6));
  CHECK_FALSE(std::isfinite(slopeOf(std::span(x).first(20), std::span(y).first(20), 1).mean));
  CHECK_FALSE(std::isfinite(slopeOf(std::vector<double>(40, 1.0), y, 1).mean));
}

TEST_CASE("twoStatementsOfOneValueCountByTheirVariances") {
  const Spread both = together({10, 1}, {16, 2});
  CHECK(both.mean == Approx((10 * 4 + 16) / 5.0));
  CHECK(both.sd == Approx(std::sqrt(4.0 / 5)));
}

TEST_CASE("itIsToldWhatARunKnowsOfItsDevice") {
  const RunLog run = steady();
  const Figures figures = analyzeRun(run);
  const OperatingPoint point = operatingPointOf(run, figures, figures.heat.at(0));
  CHECK(point.roomC == Approx(20).margin(0.05));
  CHECK(point.overRoomK.mean == Approx(40).margin(0.1));
  CHECK(point.powerW == Approx(80));
  CHECK(point.restPowerW == Approx(8));
  CHECK(point.restMhz == Approx(800));
  CHECK(point.clockMhz == Approx(4000));
  CHECK_FALSE(point.isPowerHeld);
  CHECK_FALSE(point.isHeatHeld);
  // Its power did not move while it warmed up by 36 K: hardly any leakage.
  CHECK(point.leakPerKelvinW.mean == Approx(0).margin(0.02));
  RunLog limited = steady();
  limited.facts.limits["cpu.power"]["sustained"] = 80;
  CHECK(operatingPointOf(limited, analyzeRun(limited), figures.heat[0]).isPowerHeld);
}

TEST_CASE("powerThatGrowsWithTemperatureAtOneClockIsLeakage") {
  // 0.2 W/K at 60 °C, e-fold per 45 K.
  const auto celsius = [](double t) { return 60 - 36 * std::exp(-(t - 60) / 60); };
  const RunLog run =
      straight([=](double t) { return 80 + 0.2 * leakGrowth(60, celsius(t), 45); }, [](double) { return 4000.0; });
  const Figures figures = analyzeRun(run);
  const Spread leak = operatingPointOf(run, figures, figures.heat.at(0)).leakPerKelvinW;
  CHECK(leak.mean == Approx(0.2).epsilon(0.05));
  // In a warmer room it draws more, and ends warmer than the room alone makes it.
  const auto warm = projectRun(run, figures, {40.0, {}, {}});
  CHECK(warm.at(0).powerW > 84);
  CHECK(warm[0].temperatureC.value > 80 + 1.5);
}

TEST_CASE("theClockAtItsLimitFollowsFromTheClocksOfTheRun") {
  // A boost of five minutes at 4400 MHz, then 4000: P − 8 W ~ f³.
  const double boostW = 8 + 72 * std::pow(1.1, 3);
  const RunLog run =
      straight([=](double t) { return t < 360 ? boostW : 80.0; }, [](double t) { return t < 360 ? 4400.0 : 4000.0; });
  const Figures figures = analyzeRun(run);
  const OperatingPoint point = operatingPointOf(run, figures, figures.heat.at(0));
  CHECK(point.clockExponent.mean > 2.5);
  CHECK(point.clockExponent.sd < 0.3);
  // A room of 66 °C leaves 24 K to the limit: 48 W, of which 40 work.
  const auto hot = projectRun(run, figures, {66.0, {}, {}});
  REQUIRE(hot.at(0).heldMhz);
  CHECK(*hot[0].throttleChance > 0.99);
  CHECK(hot[0].heldPowerW->value == Approx(48).margin(2.5));
  CHECK(hot[0].heldMhz->low < 4000 * std::cbrt(40 / 72.0));
  CHECK(hot[0].heldMhz->high > 4000 * std::cbrt(40 / 72.0));
  CHECK(hot[0].heldMhz->high < 4000);
}

TEST_CASE("aSlowerFanMakesItWarmerAndLessSure") {
  const RunLog run = steady();
  const Figures figures = analyzeRun(run);
  const auto own = projectRun(run, figures, {{}, {}, 1000.0}).at(0);
  const auto slow = projectRun(run, figures, {{}, {}, 600.0}).at(0);
  const auto fast = projectRun(run, figures, {{}, {}, 1600.0}).at(0);
  CHECK(own.temperatureC.value == Approx(60).margin(0.5));
  CHECK(slow.fanRpm == Approx(600));
  CHECK(slow.temperatureC.value > 62);
  CHECK(fast.temperatureC.value < 58);
  CHECK(slow.temperatureC.high - slow.temperatureC.low > 2 * (own.temperatureC.high - own.temperatureC.low));
  // At most 80 % of the way is the fan's, and that by speed to the power of 0.8 at most.
  CHECK(slow.temperatureC.high < 20 + 40 * (0.15 + 0.85 * std::pow(0.6, -0.8)) + 1);
  CHECK(projectRun(run, figures, {{}, {}, 200.0}).empty());
  CHECK(projectRun(run, figures, {{}, {}, 4100.0}).empty());
}

TEST_CASE("whereNothingHoldsItNothingIsToldOfAHeldClock") {
  const RunLog run = steady();
  const auto cool = projectRun(run, analyzeRun(run), {10.0, {}, {}});
  CHECK(*cool.at(0).throttleChance < 0.01);
  CHECK_FALSE(cool[0].heldMhz);
  const Json json = projectionsToJson(cool)[0];
  CHECK(json["held_clock_mhz"].is_null());
  CHECK(json["held_power_w"].is_null());
}

TEST_CASE("projectionsHoldOnBenchesOfManyKinds") {
  Coverage temperatures, clocks;
  double told = 0, seen = 0;
  for (unsigned seed = 5000; seed < 5080; ++seed) {
    DrawnBench bench(seed);
    const RunLog run = bench.run();
    const ProjectionQuestion asked = bench.question();
    const auto projected = projectRun(run, analyzeRun(run), asked);
    REQUIRE(projected.size() == 1);
    const DrawnBench::Truth truth = bench.truth(asked);
    temperatures.add(projected[0].temperatureC, truth.freeC);
    if (truth.isHeld && projected[0].heldMhz) clocks.add(*projected[0].heldMhz, truth.mhz);
    told += *projected[0].throttleChance;
    seen += truth.isHeld;
  }
  // 95 % of 80, and of some 35: fewer than these come about once in a thousand times.
  CHECK(temperatures.inside >= 69);
  CHECK(clocks.asked >= 20);
  CHECK(clocks.share() >= 0.8);
  CHECK(told == Approx(seen).margin(4));
}
