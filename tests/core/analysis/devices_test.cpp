// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of devices beside the first processor: second cards, clusters, regulators, surfaces, lone counters. Expected
// values follow from the numbers that the logs are made of.
#include <algorithm>
#include <catch2/catch.hpp>

#include "analysis/analyze.h"
#include "analysis/catalogue/metrics.h"
#include "analysis/figures_json.h"
#include "analysis/run/context.h"
#include "tests/support/known_logs.h"
#include "tests/support/made_runs.h"
#include "tests/support/words.h"

using namespace ash;
using tests::LogMaker;

namespace {

constexpr double kRestS = 60, kEndS = 900;

/// 15 minutes: rest, then load; settled values from the beginning of the load.
LogMaker log() {
  LogMaker maker(kEndS, 1);
  maker.phase(PhaseKind::Idle, 0, kRestS).phase(PhaseKind::Soak, kRestS, 600).phase(PhaseKind::Measure, 600, kEndS);
  maker.run.facts.load = "made";
  maker.add("room.temp", [](double) { return 20.0; });
  return maker;
}

auto restThen(double atRest, double underLoad) {
  return [=](double t) { return t < kRestS ? atRest : underLoad; };
}

const Throttling* judgedOf(const Figures& figures, const Device& device) {
  for (const Throttling& one : figures.throttling) {
    if (one.device == device) return &one;
  }
  return nullptr;
}

}  // namespace

TEST_CASE("aSecondCardHasFiguresOfItsOwn") {
  LogMaker maker = log();
  maker.add("gpu.temp", restThen(30, 45)).add("gpu.power", restThen(10, 50)).add("gpu.load", restThen(0, 99));
  maker.add("gpu2.temp", restThen(30, 80)).add("gpu2.power", restThen(10, 150)).add("gpu2.load", restThen(0, 99));
  maker.run.facts.limits["gpu2.temp"] = {{"throttle", 95}};
  const Figures figures = analyzeRun(maker.run);
  const MetricValues metrics = metricsOf(maker.run, figures);
  // (45 − 20) K over 50 W, (80 − 20) K over 150 W.
  CHECK(metrics.at("gpu.resistance_k_per_w").value == Approx(0.5));
  CHECK(metrics.at("gpu2.resistance_k_per_w").value == Approx(0.4));
  CHECK(metrics.at("gpu2.over_ambient_k").value == Approx(60));
  CHECK(metrics.at("gpu2.headroom_k").value == Approx(15));
  // 75 K up to the limit at 0.4 K/W carry 187.5 W: 37.5 W more than it draws.
  CHECK(metrics.at("gpu2.headroom_w").value == Approx(37.5));
  CHECK(metrics.at("gpu2.hottest_room_c").value == Approx(35));
  CHECK_FALSE(metrics.contains("gpu.headroom_k"));  // no limit is known of it
  CHECK(Figure("gpu2.resistance_k_per_w").title() == "GPU2 thermal resistance");
}

TEST_CASE("aCardThatOnlyRestsHasNoResistance") {
  LogMaker maker = log();
  maker.add("cpu.temp", restThen(35, 70)).add("cpu.power", restThen(10, 100)).add("cpu.load", restThen(1, 100));
  maker.add("gpu.temp", restThen(30, 40)).add("gpu.power", restThen(10, 10)).add("gpu.load", restThen(0, 1));
  const MetricValues metrics = metricsOf(maker.run, analyzeRun(maker.run));
  CHECK(metrics.at("cpu.resistance_k_per_w").value == Approx(0.5));
  CHECK(metrics.at("gpu.over_ambient_k").value == Approx(20));
  CHECK_FALSE(metrics.contains("gpu.resistance_k_per_w"));
}

TEST_CASE("aClusterThatIsSlowedIsNamedBehindItsProcessor") {
  LogMaker maker = log();
  maker.add("cpu.temp", [](double t) { return t < kRestS ? 40.0 : t < 480 ? 80.0 : 95.0; });
  maker.add("cpu.load", restThen(1, 100)).add("cpu.clock", restThen(2000, 4000));
  maker.add("cpu.clock.cluster0", restThen(1800, 4400));
  maker.add("cpu.clock.cluster1", [](double t) { return t < kRestS ? 1000.0 : t < 480 ? 3000.0 : 2400.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  const Figures figures = analyzeRun(maker.run);
  const Throttling* slowed = judgedOf(figures, "cpu.cluster1");
  REQUIRE(slowed != nullptr);
  CHECK(slowed->referenceMhz == Approx(3000));
  // 420 of 840 s of load, a fifth of the clock.
  CHECK(slowed->share == Approx(0.5).margin(0.02));
  CHECK(slowed->shareThermal == Approx(0.5).margin(0.02));
  CHECK(slowed->lostClockShare == Approx(0.2).margin(0.01));
  const Throttling* other = judgedOf(figures, "cpu.cluster0");
  CHECK((other == nullptr || other->share < 0.01));
  // The processor is as slow as its slowest cluster.
  const Throttling* whole = judgedOf(figures, DeviceKind::Cpu);
  REQUIRE(whole != nullptr);
  CHECK(whole->shareThermal == Approx(0.5).margin(0.02));
  const MetricValues metrics = metricsOf(maker.run, figures);
  const Figure figure("cpu.cluster1.throttled_share");
  CHECK(metrics.at(figure).value == Approx(0.5).margin(0.02));
  CHECK(figure.title() == "CPU cluster 1 slowed in all");
  CHECK(figure.device() == Device(DeviceKind::Cpu, "cluster1"));
}

TEST_CASE("ofADeviceOnlyItsMainTemperatureIsCompared") {
  LogMaker maker = log();
  maker.add("cpu.temp", restThen(35, 70))
      .add("cpu.temp.package", restThen(34, 68))
      .add("cpu.temp.core0", restThen(33, 66));
  maker.add("gpu.temp.hotspot", restThen(40, 90))
      .add("board.temp.vrm", restThen(30, 60))
      .add("surface.lid", restThen(24, 38));
  const MetricValues metrics = metricsOf(maker.run, analyzeRun(maker.run));
  CHECK(metrics.at("cpu.over_ambient_k").value == Approx(50));
  CHECK(metrics.at("board.vrm.over_ambient_k").value == Approx(40));
  CHECK(metrics.at("surface.lid.temp").value == Approx(38));
  for (const auto& [figure, value] : metrics) {
    INFO(figure.code());
    CHECK(figure.code().find("hotspot") == std::string::npos);
    CHECK(figure.code().find("package") == std::string::npos);
    CHECK(figure.code().find("core0") == std::string::npos);
    CHECK_FALSE(figure.device().is(DeviceKind::Room));
  }
}

TEST_CASE("aLoneCounterIsToldUnderThePowersName") {
  LogMaker maker = log();
  double joules = 1000;
  maker.add("cpu.temp", restThen(35, 70)).add("cpu.energy", [&](double) { return joules += 50; });
  const Figures figures = analyzeRun(maker.run);
  const auto energy = std::find_if(figures.energy.begin(), figures.energy.end(),
                                   [](const Energy& one) { return one.channel == "cpu.power"; });
  REQUIRE(energy != figures.energy.end());
  REQUIRE(energy->totalJ);
  CHECK(*energy->totalJ == Approx(50 * (kEndS - 1)));
}

TEST_CASE("thePowerLimitInForceIsNoPowerThatIsDrawn") {
  LogMaker maker = log();
  maker.add("cpu.temp", restThen(35, 70))
      .add("cpu.power", restThen(10, 100))
      .add("cpu.power.limit", restThen(125, 125));
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.energy.size() == 1);
  CHECK(figures.energy[0].channel == "cpu.power");
  CHECK(*figures.energy[0].loadJ == Approx(100 * (kEndS - kRestS)).epsilon(0.01));
}

TEST_CASE("aDeviceIsWrittenByItsTextInTheFigures") {
  LogMaker maker = log();
  maker.add("gpu2.temp", restThen(30, 80)).add("gpu2.power", restThen(10, 150)).add("gpu2.load", restThen(0, 99));
  const Json json = figuresToJson(analyzeRun(maker.run));
  REQUIRE(json["heat"].size() == 1);
  CHECK(json["heat"][0]["device"] == "gpu2");
}

TEST_CASE("aSurfaceThatIsWatchedIsNoSideEffectOfItself") {
  auto a = tests::madeRun("a", "old", 40), b = tests::madeRun("b", "new", 40);
  for (AnalyzedRun* run : {&a, &b}) {
    run->figures.watched = "surface.lid";
    tests::addOverRoom(*run, "surface.lid", run == &a ? 15 : 25);
    tests::addOverRoom(*run, "storage.temp", run == &a ? 20 : 29);
  }
  CompareOptions options;
  options.temperatureRepeatability = 0.2;
  const auto comparison = compareRuns(std::vector<const AnalyzedRun*>{&a, &b}, options);
  REQUIRE(comparison);
  std::vector<std::string> sideEffects;
  for (const ComparisonCheck& check : comparison->checks) {
    if (check.kind == CheckKind::SideEffect) sideEffects.push_back(check.text);
  }
  REQUIRE(sideEffects.size() == 1);
  CHECK(sideEffects[0].starts_with("SSD runs 9.0 K warmer with new than with old"));
}
