// SPDX-License-Identifier: GPL-3.0-or-later
// Ratios, instruments and noise at two distances. Limits of the ratios: the roots of Fieller's equation, searched by
// halving with the density of t integrated by Simpson's rule, made for this test in another language.
#include "analysis/comparison/pooling.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/figures_json.h"
#include "analysis/series/quantiles.h"
#include "model/sound_level.h"
#include "tests/support/made_runs.h"
#include "tests/support/words.h"

using namespace ash;
using namespace ash::tests;

namespace {

AnalyzedRun taskRun(const std::string& setup, size_t number, double seconds) {
  AnalyzedRun run = madeRun(setup + std::to_string(number), setup, 40);
  run.run.facts.work = RunFacts::Work{1, "mixdown", seconds};
  return run;
}

Comparison compareTasks(const std::vector<double>& reference, const std::vector<double>& other) {
  std::vector<AnalyzedRun> runs;
  for (size_t i = 0; i < reference.size(); ++i) runs.push_back(taskRun("old", i, reference[i]));
  for (size_t i = 0; i < other.size(); ++i) runs.push_back(taskRun("new", i, other[i]));
  return *compareRuns(runs, {});
}

void addNoise(AnalyzedRun& run, double dba, const std::string& place) {
  Event event;
  event.kind = EventKind::Reading;
  event.role = "noise";
  event.value = dba;
  if (!place.empty()) event.extra["place"] = place;
  run.run.facts.events.push_back(event);
}

const ComparisonCheck* checkOf(const Comparison& comparison, const std::string& what) {
  for (const ComparisonCheck& check : comparison.checks) {
    if (codeOf(check) == what) return &check;
  }
  return nullptr;
}

}  // namespace

TEST_CASE("ratiosAndTheirLimitsAreFiellers") {
  const MetricRow slower = compareTasks({101.2, 99.5, 100.4, 102.0}, {2051, 2038, 2075}).rows[1].metrics.at("task_s");
  CHECK(slower.ratio == Approx(20.388654594).epsilon(1e-8));
  CHECK(slower.ratioLow == Approx(19.995352615).epsilon(1e-6));
  CHECK(slower.ratioHigh == Approx(20.789758705).epsilon(1e-6));
  const MetricRow faster = compareTasks({2051, 2038, 2075}, {101.2, 99.5, 100.4, 102.0}).rows[1].metrics.at("task_s");
  CHECK(faster.ratioLow == Approx(0.0481006064).epsilon(1e-6));
  CHECK(faster.ratioHigh == Approx(0.0500116212).epsilon(1e-6));
  const MetricRow half = compareTasks({1000, 1016, 995, 1004}, {510, 498, 505}).rows[1].metrics.at("task_s");
  CHECK(half.ratioLow == Approx(0.4905519733).epsilon(1e-6));
  CHECK(half.ratioHigh == Approx(0.5145148173).epsilon(1e-6));
}

TEST_CASE("whatHasNoZeroThatMeansNoneHasNoRatio") {
  const Comparison comparison = compareTasks({100, 101}, {50, 51});
  CHECK(std::isnan(comparison.rows[1].metrics.at("cpu.over_ambient_k").ratio));
  CHECK(comparisonToJson(comparison)["rows"][1]["metrics"]["cpu.over_ambient_k"]["ratio"].is_null());
  // A reference that is not told from zero bounds no ratio.
  Pooled a{10, 1}, reference{1, 1};
  CHECK(std::isnan(ratioInterval(a, reference).high));
}

TEST_CASE("whatOneMeterIsOffByIsInTheFigureButNotInTheDifference") {
  std::vector<AnalyzedRun> runs = {madeRun("a", "a", 40), madeRun("b", "b", 40)};
  for (AnalyzedRun& run : runs) run.run.facts.accuracies["wall.power"] = {2, 1, "meter 1"};
  addMean(runs[0], "wall.power", Quantity::Power, 100, 0.1);
  addMean(runs[1], "wall.power", Quantity::Power, 110, 0.1);
  CompareOptions stated;  // no scatter between repeats, so that the meter's part stands alone
  stated.repeatability["wall.power"] = 0;
  const Comparison one = *compareRuns(runs, stated);
  const MetricRow& first = one.rows[0].metrics.at("wall.power");
  // ± (2 W + 1 % of 100 W) as a rectangle: 3/√3 W, beside 0.1 W.
  CHECK((first.ciHigh - first.ciLow) / 2 == Approx(1.959964 * std::sqrt(3.0 + 0.01)).epsilon(1e-4));
  const MetricRow& second = one.rows[1].metrics.at("wall.power");
  CHECK((second.differenceHigh - second.differenceLow) / 2 == Approx(1.959964 * 0.1 * std::sqrt(2.0)).epsilon(1e-4));
  CHECK(checkOf(one, "instrument") == nullptr);

  runs[1].run.facts.accuracies["wall.power"].instrument = "meter 2";
  const Comparison two = *compareRuns(runs, stated);
  const MetricRow& apart = two.rows[1].metrics.at("wall.power");
  const double variance = 3.0 + 0.01 + 3.1 * 3.1 / 3 + 0.01;
  CHECK((apart.differenceHigh - apart.differenceLow) / 2 == Approx(1.959964 * std::sqrt(variance)).epsilon(1e-4));
  REQUIRE(checkOf(two, "instrument") != nullptr);
  CHECK(checkOf(two, "instrument")->text.find("meter 2") != std::string::npos);
}

TEST_CASE("anAccuracyDoesNotShrinkWithRepeats") {
  std::vector<AnalyzedRun> runs;
  for (int i = 0; i < 8; ++i) {
    runs.push_back(madeRun("a" + std::to_string(i), "a", 40));
    addNoise(runs.back(), 38 + 0.1 * i, "50 cm");
    runs.back().run.facts.accuracies["noise"] = {1.5, 0, ""};
  }
  const MetricRow noise = compareRuns(runs, {})->rows[0].metrics.at("noise");
  CHECK((noise.ciHigh - noise.ciLow) / 2 > 1.96 * 1.5 / std::sqrt(3.0));
}

TEST_CASE("noiseFromAnotherDistanceIsBroughtThereAndMarked") {
  std::vector<AnalyzedRun> runs = {madeRun("a", "a", 40), madeRun("b", "b", 40), madeRun("c", "c", 40)};
  addNoise(runs[0], 44, "50 cm");
  addNoise(runs[1], 38, "1 m");
  addNoise(runs[2], 41, "0.5m");
  const Comparison comparison = *compareRuns(runs, {});
  const MetricRow& nearer = comparison.rows[1].metrics.at("noise");
  CHECK(nearer.value == Approx(38 + 20 * std::log10(2.0)));
  CHECK(nearer.isEstimate);
  CHECK(nearer.ciHigh - nearer.ciLow == Approx(2 * 1.959964 * 0.25 * 20 * std::log10(2.0)).epsilon(1e-4));
  // The same place, written in another way, is no other place.
  CHECK(comparison.rows[2].metrics.at("noise").value == 41);
  CHECK_FALSE(comparison.rows[2].metrics.at("noise").isEstimate);
  REQUIRE(checkOf(comparison, "noise_distance") != nullptr);
  CHECK(checkOf(comparison, "noise_distance")->text.find("1 m") != std::string::npos);
  CHECK(comparisonToJson(comparison)["rows"][1]["metrics"]["noise"]["estimate"] == true);
}

TEST_CASE("noiseWithoutAToldDistanceStaysAsItIs") {
  std::vector<AnalyzedRun> runs = {madeRun("a", "a", 40), madeRun("b", "b", 40)};
  addNoise(runs[0], 44, "");
  addNoise(runs[1], 38, "1 m");
  const Comparison comparison = *compareRuns(runs, {});
  CHECK(comparison.rows[1].metrics.at("noise").value == 38);
  CHECK(checkOf(comparison, "noise_distance") == nullptr);
}

TEST_CASE("levelsAddAsPowersAndFallWithDistance") {
  CHECK(soundSumDba({30, 30, 30, 30}) == Approx(36.0206).epsilon(1e-5));
  CHECK(distanceM("50 cm") == Approx(0.5));
  CHECK(distanceM("1500mm") == Approx(1.5));
  CHECK_FALSE(distanceM("desk"));
  CHECK_FALSE(distanceM("0 m"));
  CHECK(distanceText(0.5) == "50 cm");
  CHECK(distanceText(1.5) == "1.5 m");
}

TEST_CASE("quantilesByCountingAreThoseOfTheSortedValues") {
  std::mt19937 random(3);
  std::normal_distribution<double> normal;
  const auto check = [](std::vector<double> values) {
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    const auto quantiles = usualQuantiles(values, *low, *high);
    std::sort(values.begin(), values.end());
    const std::array shares = {0.05, 0.5, 0.95};
    for (size_t q = 0; q < 3; ++q) {
      const double place = shares[q] * static_cast<double>(values.size() - 1);
      const auto below = static_cast<size_t>(place);
      const double above = values[std::min(below + 1, values.size() - 1)];
      CHECK(quantiles[q] ==
            Approx(values[below] + (place - std::floor(place)) * (above - values[below])).epsilon(1e-14));
    }
  };
  for (const size_t count : {1u, 2u, 20u, 499u, 500u, 501u, 5000u, 5003u}) {
    std::vector<double> fine, coarse, outlier, states;
    for (size_t i = 0; i < count; ++i) {
      fine.push_back(60 + 5 * normal(random));
      coarse.push_back(std::round(fine.back()));
      outlier.push_back(i == count / 2 ? 1e9 : fine.back());
      states.push_back(i % 3 == 0 ? 0.1 : 0.3);
    }
    check(fine);
    check(coarse);
    check(outlier);
    check(states);
    check(std::vector<double>(count, 42.5));
  }
}

TEST_CASE("aRepeatThatWasAsNearToItsEndAsTheOthersMakesNoBound") {
  const auto withLeft = [](const std::string& name, const std::string& setup, double kelvin, double leftK) {
    AnalyzedRun run = madeRun(name, setup, kelvin);
    run.figures.load = TimeSpan{0, 600};
    SettlingVerdict verdict;
    verdict.isSettled = leftK == 0;
    verdict.remainingK = leftK;
    run.figures.channels[0].settled = verdict;
    return run;
  };
  const auto boundOf = [&](double second, double third) {
    const std::vector<AnalyzedRun> runs = {withLeft("r1", "r", 50, 0), withLeft("r2", "r", 50.1, 0),
                                           withLeft("a1", "a", 40, 0), withLeft("a2", "a", 40.1, second),
                                           withLeft("a3", "a", 40.2, third)};
    return compareRuns(runs, {})->rows[1].metrics.at("cpu.over_ambient_k").bound;
  };
  CHECK(boundOf(0, 0) == "");
  CHECK(boundOf(0, 0.02) == "");
  // The true figure lies higher than the one shown.
  CHECK(boundOf(0, 0.8) == "at least");
  // Alone it stays a bound.
  const std::vector<AnalyzedRun> single = {withLeft("r1", "r", 40, 0), withLeft("a1", "a", 50, 0.02)};
  CHECK(compareRuns(single, {})->rows[1].metrics.at("cpu.over_ambient_k").bound == "at least");
}
