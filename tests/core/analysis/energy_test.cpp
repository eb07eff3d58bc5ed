// SPDX-License-Identifier: GPL-3.0-or-later
// Energy, efficiency and the roles they come from.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/analyze.h"
#include "analysis/catalogue/metrics.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// 60 s rest, 540 s load; power by function of time.
template <typename F>
LogMaker powered(const std::string& role, F watts, double intervalS = 0.5) {
  LogMaker maker(600, intervalS);
  maker.add(role, watts);
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 600);
  return maker;
}

double step(double t) { return t < 60 ? 10.0 : 90.0; }

}  // namespace

TEST_CASE("theTrapezoidIsExactForAStraightRise") {
  // ∫ t/10 dt over the load, 60 s to the last sample at 599.5 s.
  const Figures figures = analyzeRun(powered("cpu.power", [](double t) { return t / 10; }).run);
  CHECK(figures.energy[0].loadJ.value() == Approx((599.5 * 599.5 - 60 * 60) / 20));
}

TEST_CASE("aCounterIsPreferredAndAWrapIsTakenFromThePower") {
  auto maker = powered("cpu.power", step);
  maker.add("cpu.energy", [](double t) { return t < 300 ? 1000 + 88 * t : 88 * (t - 300); });
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.energy.size() == 1);
  // 88 W all along; over the half second in which the counter fell, the 90 W of the power reading.
  CHECK(figures.energy[0].totalJ.value() == Approx(88 * 599.0 + 90 * 0.5));
}

TEST_CASE("energyIsWithinAThousandthOfTheExactIntegral") {
  // A power that swings and rises; sampled unevenly, and by a counter that wraps every 262 143 J/100.
  const auto watts = [](double t) { return 80 + 30 * std::sin(t / 7) + t / 20; };
  const auto joules = [](double t) { return 80 * t + 30 * 7 * (1 - std::cos(t / 7)) + t * t / 40; };
  LogMaker maker(600, 0.5);
  std::mt19937 random(3);
  std::uniform_real_distribution<double> shift(-0.2, 0.2);
  for (double& t : maker.run.log.timeS) t = std::max(0.0, t + shift(random));
  const double first = maker.run.log.timeS.front(), last = maker.run.log.timeS.back();
  maker.phase(PhaseKind::Soak, first, last + 0.5);
  maker.add("cpu.power", watts);
  const double exact = joules(last) - joules(first);
  CHECK(analyzeRun(maker.run).energy[0].totalJ.value() == Approx(exact).epsilon(1e-3));
  maker.add("cpu.energy", [&](double t) { return std::fmod(500 + joules(t), 2621.43); });
  CHECK(analyzeRun(maker.run).energy[0].totalJ.value() == Approx(exact).epsilon(1e-3));
  // A counter alone, whose wraps must be made good from the steps around them.
  std::erase_if(maker.run.log.channels, [](const Channel& channel) { return channel.name == "cpu.power"; });
  const Figures alone = analyzeRun(maker.run);
  REQUIRE(alone.energy.size() == 1);
  CHECK(alone.energy[0].channel == "cpu.power");
  CHECK(alone.energy[0].totalJ.value() == Approx(exact).epsilon(2e-3));
}

TEST_CASE("powerOfTheWallGoesBeforeBatteryBeforeDevice") {
  auto maker = powered("cpu.power", step);
  CHECK(analyzeRun(maker.run).efficiency.powerRole == "cpu.power");
  maker.add("gpu.power", [](double t) { return t < 60 ? 9.0 : 200.0; });
  CHECK(analyzeRun(maker.run).efficiency.powerRole == "gpu.power");
  maker.add("battery.power", step);
  CHECK(analyzeRun(maker.run).efficiency.powerRole == "battery.power");
  maker.add("wall.power", step);
  CHECK(analyzeRun(maker.run).efficiency.powerRole == "wall.power");
}

TEST_CASE("workPerJouleIsWorkOverTheEnergyItTook") {
  auto maker = powered("wall.power", step);
  maker.run.facts.work = RunFacts::Work{3, "mixdown", 200};
  const Figures figures = analyzeRun(maker.run);
  CHECK(figures.efficiency.workPerJoule.value() == Approx(3 / (90.0 * 200)));
  CHECK(figures.energy[0].perWorkUnitJ.value() == Approx(90.0 * 200 / 3));
  CHECK(metricsOf(maker.run, figures).at("task_s").value == 200);
}

TEST_CASE("aRateOfWorkGivesWorkPerJouleToo") {
  auto maker = powered("wall.power", step);
  maker.add("work.rate", [](double t) { return t < 60 ? 0.0 : 450.0; });
  CHECK(analyzeRun(maker.run).efficiency.workPerJoule.value() == Approx(5));
}

TEST_CASE("withoutPowerThereIsNoEfficiency") {
  LogMaker maker(600, 0.5);
  maker.add("cpu.temp", [](double) { return 40.0; }).add("work.rate", [](double t) { return t < 60 ? 0.0 : 450.0; });
  const Figures figures = analyzeRun(maker.run);
  CHECK(figures.efficiency.powerRole.empty());
  CHECK_FALSE(figures.efficiency.workPerJoule);
  CHECK(figures.energy.empty());
}

TEST_CASE("theEnergyMetricIsThatOfTheQuotedPower") {
  auto maker = powered("cpu.power", step);
  maker.add("wall.power", [](double t) { return 40 + step(t); });
  const Figures figures = analyzeRun(maker.run);
  const auto metrics = metricsOf(maker.run, figures);
  CHECK(metrics.at("energy_j").value == Approx(130 * 539.5).epsilon(1e-3));
  CHECK(metrics.at("idle.wall.power").value == Approx(50));
  CHECK(metrics.at("wall.power").value == Approx(130));
  CHECK(metrics.at("cpu.power").value == Approx(90));
}

TEST_CASE("aDeviceThatOnlyIdlesHasNoThermalResistance") {
  auto maker = powered("cpu.power", step);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 80.0; }).add("room.temp", [](double) { return 22.0; });
  maker.add("gpu.power", [](double) { return 10.0; }).add("gpu.temp", [](double t) { return t < 60 ? 32.0 : 44.0; });
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.heat.size() == 1);
  CHECK(figures.heat[0].device == "cpu");
  CHECK(figures.heat[0].resistance->value == Approx(58.0 / 90));
  CHECK_FALSE(figures.heat[0].headroomW);  // no limit is known
}

TEST_CASE("typedReadingsStandInForWhatWasNotLogged") {
  auto maker = powered("cpu.power", step);
  for (const double dba : {36.4, 36.6})
    maker.run.facts.events.push_back({500, EventKind::Reading, "", "noise", dba, kMissing, Json::object()});
  maker.run.facts.events.push_back({510, EventKind::Reading, "", "surface.hinge", 47.5, kMissing, Json::object()});
  const auto metrics = metricsOf(maker.run, analyzeRun(maker.run));
  CHECK(metrics.at("noise").value == Approx(36.5));
  CHECK(metrics.at("surface.hinge.temp").value == 47.5);
}

TEST_CASE("aSlowChannelHasNoGapsForItsEmptyCells") {
  LogMaker maker(600, 0.5);
  maker.add("cpu.power", step);
  maker.add("room.temp", [](double t) { return std::fmod(t, 60) == 0 ? 22.0 : kMissing; });
  const Figures figures = analyzeRun(maker.run);
  for (const Problem& problem : figures.problems) CHECK(problem.kind != ProblemKind::Gap);
}

TEST_CASE("aGapOfAllChannelsIsToldOnce") {
  LogMaker maker(600, 0.5);
  maker.add("cpu.power", step).add("cpu.temp", [](double) { return 40.0; });
  std::erase_if(maker.run.log.timeS, [](double t) { return t >= 200 && t < 230; });
  for (Channel& channel : maker.run.log.channels) channel.values.resize(maker.run.log.timeS.size());
  int gaps = 0;
  for (const Problem& problem : analyzeRun(maker.run).problems) gaps += problem.kind == ProblemKind::Gap;
  CHECK(gaps == 1);
}

TEST_CASE("aBatteryThatRunsDownHasItsLastSampleAndOneThatDoesNotALine") {
  // 100 % at 36 % an hour: empty after 10,000 s.
  LogMaker half(5000, 10);
  half.add("battery.charge", [](double t) { return std::round((100 - t / 100) * 10) / 10; });
  half.add("battery.power", [](double) { return 20.0; });
  half.phase(PhaseKind::Soak, 0, 5000);
  const auto drawn = analyzeRun(half.run).battery;
  REQUIRE(drawn);
  CHECK(drawn->drainPercentPerHour == Approx(36).epsilon(0.001));
  CHECK(drawn->runtimeS.value == Approx(10'000).epsilon(0.001));
  CHECK(drawn->runtimeS.low <= 10'000);
  CHECK(drawn->runtimeS.high >= 10'000);
  CHECK_FALSE(drawn->ranDown);
  LogMaker whole(9800, 10);
  whole.add("battery.charge", [](double t) { return 100 - t / 100; });
  whole.add("battery.power", [](double) { return 20.0; });
  whole.phase(PhaseKind::Soak, 0, 9800);
  const Figures figures = analyzeRun(whole.run);
  CHECK(figures.battery->ranDown);
  CHECK(figures.battery->runtimeS.value == 9790);
  CHECK(metricsOf(whole.run, figures).at("runtime_s").value == 9790);
}

TEST_CASE("aGaugesZerosAfterTheFirstSayNothing") {
  // Empty after 5,000 s, and at zero for another 3,000.
  LogMaker maker(8000, 10);
  maker.add("battery.charge", [](double t) { return std::max(0.0, 100 - t / 50); });
  maker.add("battery.power", [](double) { return 20.0; });
  maker.phase(PhaseKind::Soak, 0, 8000);
  const auto battery = analyzeRun(maker.run).battery;
  REQUIRE(battery);
  CHECK(battery->ranDown);
  CHECK(battery->runtimeS.value == 5000);
  CHECK(battery->drainPercentPerHour == Approx(72));
  CHECK(battery->usedPercent == 100);
}

TEST_CASE("eachPassHasTheHottestReadingOfWhatWorks") {
  LogMaker maker(400, 1);
  maker.add("storage.temp", [](double t) { return 30 + t / 10; });
  maker.add("cpu.temp", [](double) { return 80.0; });
  maker.add("storage.write", [](double t) { return t < 100 ? 0.0 : 900.0; });
  maker.phase(PhaseKind::Soak, 100, 400);
  maker.run.facts.loadKind = LoadKind::Storage;
  maker.run.facts.passes = {{100, 200, 512, {}}, {200, 300, 480, {}}, {300, 400, kMissing, {}}};
  const auto passes = analyzeRun(maker.run).passes;
  REQUIRE(passes);
  CHECK(passes->count == 2);
  REQUIRE(passes->each.size() == 3);
  CHECK(passes->each[0].highestC == Approx(49.9));
  CHECK(passes->each[1].highestC == Approx(59.9));
  CHECK(passes->each[1].score == 480);
  CHECK(std::isnan(passes->each[2].score));
}

TEST_CASE("energyIsToldOverRestAndPerPass") {
  LogMaker maker = powered("wall.power", step);
  maker.run.facts.passes = {{100, 200, 5, {}}, {200, 400, 5, {}}};
  const Energy energy = analyzeRun(maker.run).energy.at(0);
  // 90 W over the load (to the last sample, and to the end for rest's share), 10 W at rest, the last half interval of
  // rest unseen.
  CHECK(energy.loadOverIdleJ.value() == Approx(90 * 539.5 - 10 * 540).epsilon(0.01));
  CHECK(energy.perPassJ.value() == Approx((9000 + 18000) / 2));
}

TEST_CASE("passesHaveATrendAndWhatTheySustain") {
  LogMaker maker = powered("cpu.power", step);
  for (int i = 0; i < 9; ++i) maker.run.facts.passes.push_back({60.0 + 60 * i, 120.0 + 60 * i, 1000.0 - 10 * i, {}});
  const auto passes = analyzeRun(maker.run).passes;
  REQUIRE(passes);
  CHECK(passes->trendPercent == Approx(-1));
  CHECK(passes->sustained == 930);  // the middle of 940, 930, 920
  CHECK(passes->sustainedPercent == Approx(93));
  maker.run.facts.lowerScoreIsBetter = true;
  CHECK(analyzeRun(maker.run).passes->sustainedPercent == Approx(100 * 1000.0 / 930));
}
