// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/compare.h"
#include "analysis/analyze.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/figures_json.h"
#include "tests/support/known_logs.h"
#include "tests/support/words.h"

using namespace ash;
using namespace ash::tests;

namespace {

AnalyzedRun runAt(const std::string& name, const std::string& setup, double riseK, unsigned seed = 1) {
  WarmUp warm;
  warm.riseK = riseK;
  warm.seed = seed;
  warm.tauS = 40;
  LogMaker maker(720, 1);
  maker.add("cpu.temp", warm.function())
      .add("cpu.power", [](double t) { return t < 60 ? 10.0 : 80.0; })
      .add("room.temp", [](double) { return 22.0; });
  maker.add("cpu.clock", [](double t) { return t < 60 ? 1200.0 : 4300.0; });
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 500).phase(PhaseKind::Measure, 500, 720);
  maker.run.name = name;
  maker.run.facts.setup = setup;
  maker.run.facts.load = "vector";
  maker.run.facts.outcome = Outcome::Completed;
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  AnalyzedRun run{maker.run, {}};
  run.figures = analyzeRun(run.run);
  return run;
}

const ComparisonRow& rowOf(const Comparison& comparison, const std::string& setup) {
  for (const ComparisonRow& row : comparison.rows) {
    if (row.setup == setup) return row;
  }
  throw std::runtime_error("no row for " + setup);
}

bool hasCheck(const Comparison& comparison, const std::string& what, const std::string& severity) {
  for (const ComparisonCheck& check : comparison.checks) {
    if (codeOf(check) == what && check.severity == severity) return true;
  }
  return false;
}

}  // namespace

TEST_CASE("verdictsFollowIntervalAndMargin") {
  const struct {
    double low, high, margin;
    Better better;
    const char* verdict;
    bool hasReason;
  } rows[] = {{-6.6, -5.6, 1, Better::Lower, "better", false},
              {2, 3, 1, Better::Lower, "worse", false},
              {2, 3, 1, Better::Higher, "better", false},
              {2, 3, 0, Better::Neither, "higher", false},
              {-3, -2, 0, Better::Neither, "lower", false},
              {-0.5, 0.7, 0, Better::Lower, "within margin", false},
              {-0.5, 0.7, 1, Better::Lower, "within margin", false},
              {0.2, 0.7, 1, Better::Lower, "within margin", false},
              {-0.5, 1.7, 1, Better::Lower, "too few repeats", false},
              {0.5, 1.7, 1, Better::Lower, "worse", true},
              {-1.7, -0.5, 1, Better::Lower, "better", true}};
  for (const auto& row : rows) {
    std::string reason;
    INFO(row.low << " to " << row.high << ", margin " << row.margin);
    CHECK(verdictOf(row.low, row.high, row.margin, row.better, reason) == row.verdict);
    CHECK(reason.empty() != row.hasReason);
  }
}

TEST_CASE("repeatsAreComparedByWelchsInterval") {
  // a: 60.1 60.5 60.3, b: 55.0 55.6 55.3 K over room. Welch: difference −5, s² 0.04 and 0.09, df 3.4845, t 2.9455
  // (R: t.test(b, a)$conf.int is −5.6132 … −4.3868).
  std::vector<AnalyzedRun> runs;
  const double a[] = {48.1, 48.5, 48.3}, b[] = {43.0, 43.6, 43.3};
  for (int i = 0; i < 3; ++i) runs.push_back(runAt("a" + std::to_string(i), "a", a[i]));
  for (int i = 0; i < 3; ++i) runs.push_back(runAt("b" + std::to_string(i), "b", b[i]));
  const auto comparison = compareRuns(runs, {});
  REQUIRE(comparison);
  const MetricRow& metric = rowOf(*comparison, "b").metrics.at("cpu.over_ambient_k");
  CHECK(rowOf(*comparison, "b").repeats == 3);
  CHECK(rowOf(*comparison, "b").run == "b0");
  CHECK(metric.difference == Approx(-5).margin(0.001));
  CHECK(metric.differenceLow == Approx(-5.613).margin(0.01));
  CHECK(metric.differenceHigh == Approx(-4.387).margin(0.01));
  CHECK(metric.verdict == "better");
  CHECK(metric.differencePercent == Approx(100 * -5 / 60.3).margin(0.02));
  CHECK(rowOf(*comparison, "a").metrics.at("cpu.over_ambient_k").verdict == Verdict::None);
}

TEST_CASE("tooFewRepeatsSaysHowManyWouldDo") {
  std::vector<AnalyzedRun> runs = {runAt("a0", "a", 48), runAt("a1", "a", 49), runAt("b0", "b", 48.2),
                                   runAt("b1", "b", 49.4)};
  CompareOptions options;
  options.temperatureMargin = 1;
  const auto comparison = compareRuns(runs, options);
  const MetricRow& metric = rowOf(*comparison, "b").metrics.at("cpu.temp");
  CHECK(metric.verdict == "too few repeats");
  CHECK(metric.reason.find("repeats of each would do") != std::string::npos);
}

TEST_CASE("aPinnedRunGivesABound") {
  auto pinned = runAt("a", "hot", 61);  // settles at 95 °C
  for (Channel& channel : pinned.run.log.channels) {
    if (channel.name != "cpu.clock") continue;
    for (size_t i = 0; i < channel.values.size(); ++i) {
      if (pinned.run.log.timeS[i] > 250) channel.values[i] = 4000;
    }
  }
  pinned.figures = analyzeRun(pinned.run);
  REQUIRE(pinned.figures.throttling.at(0).shareThermal > 0.5);
  const auto comparison = compareRuns({pinned, runAt("b", "cool", 40)}, {});
  const MetricRow& metric = rowOf(*comparison, "cool").metrics.at("cpu.temp");
  // The pinned reference would be hotter still: the other is cooler by at least what is shown, so the signed difference
  // is at most it.
  CHECK(metric.bound == "at most");
  CHECK(metric.reason.find("hot was at its limit") != std::string::npos);
}

TEST_CASE("voidRunsTakeNoPartAndOtherLoadsAreNotComparable") {
  auto spoilt = runAt("v", "a", 90);
  spoilt.run.facts.outcome = Outcome::Void;
  spoilt.run.facts.reason = "left a cable in the fan";
  auto other = runAt("c", "c", 40);
  other.run.facts.load = "mixed";
  const auto comparison = compareRuns({runAt("a", "a", 48), spoilt, other}, {});
  REQUIRE(comparison);
  CHECK(rowOf(*comparison, "a").repeats == 1);
  CHECK(hasCheck(*comparison, "void", "info"));
  CHECK(hasCheck(*comparison, "load", "block"));
  CHECK(rowOf(*comparison, "c").metrics.at("cpu.temp").verdict == "not comparable");
  spoilt.run.facts.outcome = Outcome::Void;
  CHECK_FALSE(compareRuns({spoilt}, {}));
}

TEST_CASE("conditionsThatWereNotUnderTestAreNamed") {
  auto a = runAt("a", "a", 48), b = runAt("b", "b", 44);
  a.run.facts.conditions = {{"fan_duty", 60}, {"power_limit_w", 88}, {"price", 20}};
  b.run.facts.conditions = {{"fan_duty", 80}, {"power_limit_w", 65}, {"price", 50}};
  a.run.facts.underTest = b.run.facts.underTest = {"fan_duty"};
  const auto comparison = compareRuns({a, b}, {});
  CHECK(comparison->whatDiffers.size() == 3);
  CHECK_FALSE(hasCheck(*comparison, "fan_duty", "warn"));
  CHECK(hasCheck(*comparison, "power_limit_w", "block"));
  CHECK(rowOf(*comparison, "b").metrics.at("cpu.temp").reason == "power_limit_w differs: 88 and 65.");
  CHECK(rowOf(*comparison, "b").metrics.at("price").value == 50);
}

TEST_CASE("anUnknownReferenceIsRefused") {
  CompareOptions options;
  options.reference = "nobody";
  const auto comparison = compareRuns({runAt("a", "a", 48)}, options);
  REQUIRE_FALSE(comparison);
  CHECK(comparison.error().message == "The reference \"nobody\" is none of the runs that are compared.");
}

TEST_CASE("directionsOfTheContract") {
  CHECK(Figure("cpu.temp").better(false) == Better::Lower);
  CHECK(Figure("board.vrm.headroom_k").better(false) == Better::Higher);
  CHECK(Figure("cpu.clock").better(false) == Better::Higher);
  CHECK(Figure("cpu.power").better(false) == Better::Neither);
  CHECK(Figure("idle.wall.power").better(false) == Better::Lower);
  CHECK(Figure("wall.power").better(false) == Better::Neither);
  CHECK(Figure("fan.cpu").better(false) == Better::Neither);
  CHECK(Figure("score").better(false) == Better::Higher);
  CHECK(Figure("score").better(true) == Better::Lower);
  CHECK(Figure("gpu.peak_c").isTemperature());
  CHECK_FALSE(Figure("noise").isTemperature());
}

TEST_CASE("theComparisonHasTheContractsShape") {
  const Json json = comparisonToJson(*compareRuns({runAt("a", "a", 48), runAt("b", "b", 44)}, {}));
  CHECK(json["reference"] == "a");
  CHECK(json["runs"] == Json({"a", "b"}));
  const Json& metric = json["rows"][1]["metrics"]["cpu.over_ambient_k"];
  for (const char* key : {"value", "ci_low", "ci_high", "difference", "difference_percent", "difference_low",
                          "difference_high", "bound", "verdict", "reason"}) {
    INFO(key);
    CHECK(metric.contains(key));
  }
  CHECK(json["rows"][0]["metrics"]["cpu.temp"]["verdict"].is_null());
}
