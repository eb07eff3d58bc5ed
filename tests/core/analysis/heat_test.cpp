// SPDX-License-Identifier: GPL-3.0-or-later
// Resistance with its interval, the parts of the way, and runs carried over to other rooms and powers.
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "analysis/figures_json.h"
#include "analysis/heat/projection.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// 80 W over 0.6 K/W, of which 0.25 to the coolant and 0.25 from there to the air of the case; settled for long.
LogMaker looped(double wobbleW = 0) {
  LogMaker maker(1800, 1);
  const auto watts = [=](double t) { return t < 60 ? 10 : 80 + wobbleW * std::sin(t); };
  const auto over = [](double t, double rest, double work) {
    return 22 + (t < 60 ? rest : rest + (work - rest) * (1 - std::exp(-(t - 60) / 80)));
  };
  maker.add("cpu.power", watts).add("cpu.load", [](double t) { return t < 60 ? 2.0 : 99.0; });
  maker.add("cpu.temp", [=](double t) { return over(t, 6, 48); });
  maker.add("coolant.temp", [=](double t) { return over(t, 3.5, 28); });
  maker.add("case.temp", [=](double t) { return over(t, 1, 8); });
  maker.add("room.temp", [](double) { return 22.0; }).add("fan.cpu", [](double) { return 900.0; });
  maker.run.facts.limits["cpu.temp"]["throttle"] = 95;
  return maker;
}

}  // namespace

TEST_CASE("theResistanceAndWhatFollowsFromItHaveIntervals") {
  const Figures figures = analyzeRun(looped(3).run);
  REQUIRE(figures.heat.size() == 1);
  const Heat& heat = figures.heat[0];
  CHECK(heat.resistance->value == Approx(0.6).epsilon(0.01));
  CHECK(heat.resistance->low < heat.resistance->value);
  CHECK(heat.resistance->high > heat.resistance->value);
  CHECK(heat.headroomW->value == Approx(73 / 0.6 - 80).epsilon(0.03));
  CHECK(heat.headroomW->low == Approx(73 / heat.resistance->high - *heat.wantedPowerW));
  CHECK(heat.hottestRoomC->value == Approx(95 - 48).margin(0.4));
  CHECK(heat.hottestRoomC->low <= heat.hottestRoomC->value);
  CHECK(heat.fan == "fan.cpu");
  CHECK(heat.fanRpm == Approx(900));
  const Json json = figuresToJson(figures)["heat"][0];
  CHECK(json["resistance_k_per_w"].get<double>() == heat.resistance->value);
  CHECK(json["headroom_w_low"].get<double>() == heat.headroomW->low);
}

TEST_CASE("theWayOfTheHeatIsSplitWhereItWasLogged") {
  const Figures figures = analyzeRun(looped().run);
  const auto& parts = figures.heat.at(0).parts;
  REQUIRE(parts.size() == 3);
  CHECK(parts[0].from == "cpu.temp");
  CHECK(parts[0].to == "coolant.temp");
  CHECK(parts[0].kelvin == Approx(20).margin(0.2));
  CHECK(parts[0].resistance.value == Approx(0.25).epsilon(0.02));
  CHECK(parts[1].to == "case.temp");
  CHECK(parts[2].resistance.value == Approx(0.1).epsilon(0.03));
  double sum = 0;
  for (const HeatPart& part : parts) sum += part.resistance.value;
  CHECK(sum == Approx(figures.heat[0].resistance->value));
  // A coolant that is warmer than the processor is not on its way.
  auto odd = looped();
  for (Channel& channel : odd.run.log.channels) {
    if (channel.name == "coolant.temp") channel.values.assign(channel.values.size(), 90);
  }
  CHECK(analyzeRun(odd.run).heat.at(0).parts.size() == 2);
}

TEST_CASE("aRunIsProjectedToAnotherRoomAndPower") {
  const RunLog run = looped().run;
  const Figures figures = analyzeRun(run);
  const auto warm = projectRun(run, figures, {35.0, {}, {}});
  REQUIRE(warm.size() == 1);
  CHECK(warm[0].temperatureC.value == Approx(35 + 48).margin(0.3));
  CHECK(warm[0].powerW == Approx(80).epsilon(0.01));
  CHECK(warm[0].throttleChance.value() < 0.01);
  CHECK(warm[0].fanRpm == Approx(900));
  const auto strong = projectRun(run, figures, {{}, 130.0, {}});
  CHECK(strong[0].temperatureC.value == Approx(22 + 0.6 * 130).margin(0.6));
  CHECK(strong[0].throttleChance.value() > 0.8);
  // Farther from the run's own power it is less sure.
  CHECK(strong[0].temperatureC.high - strong[0].temperatureC.low >
        warm[0].temperatureC.high - warm[0].temperatureC.low);
  const auto edge = projectRun(run, figures, {95 - 0.6 * 80, {}, {}});
  CHECK(edge[0].throttleChance.value() == Approx(0.5).margin(0.2));
}

TEST_CASE("whatHadNotSettledIsProjectedFromItsForecast") {
  LogMaker maker = looped();
  auto& log = maker.run.log;
  const size_t kept = 60 + 100;  // a time constant and a quarter of the load
  log.timeS.resize(kept);
  for (Channel& channel : log.channels) channel.values.resize(kept);
  const Figures figures = analyzeRun(maker.run);
  REQUIRE_FALSE(figures.channel("cpu.temp")->settled->isSettled);
  CHECK(figures.heat.at(0).resistance->value < 0.45);
  CHECK(figures.heat.at(0).resistance->high > 0.58);
  const auto projected = projectRun(maker.run, figures, {22.0, 80.0, {}});
  CHECK(projected.at(0).temperatureC.value == Approx(70).margin(2));
}

TEST_CASE("withoutRoomOrPowerNothingIsProjected") {
  LogMaker maker(600, 1);
  maker.add("cpu.load", [](double t) { return t < 60 ? 2.0 : 99.0; });
  maker.add("cpu.temp", [](double t) { return t < 60 ? 30.0 : 70.0; });
  const Figures figures = analyzeRun(maker.run);
  CHECK(projectRun(maker.run, figures, {35.0, {}, {}}).empty());
}
