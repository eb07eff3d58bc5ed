// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/statistics.h"

#include "analysis/thinning.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

using namespace ash;

namespace {

Series evenly(std::vector<double> values) {
  Series series;
  for (size_t i = 0; i < values.size(); ++i) series.t.push_back(0.5 * static_cast<double>(i));
  series.v = std::move(values);
  return series;
}

double stepOf(const std::vector<double>& values) { return estimateStep(values); }

std::vector<double> autoregressive(double phi, size_t n, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<double> normal;
  std::vector<double> values;
  double x = 0;
  for (size_t i = 0; i < n; ++i) values.push_back(x = phi * x + normal(random));
  return values;
}

}  // namespace

TEST_CASE("statisticsOfASmallSeriesAreThoseOfTheTextbook") {
  const Stats stats = statsOf(evenly({2, 4, 4, 4, 5, 5, 7, 9}), 0);
  CHECK(stats.n == 8);
  CHECK(stats.mean == Approx(5));
  CHECK(stats.sd == Approx(std::sqrt(32.0 / 7)));
  CHECK(stats.median == Approx(4.5));
  CHECK(stats.min == 2);
  CHECK(stats.max == 9);
  CHECK(stats.p05 == Approx(2.7));  // type 7: 0.35 of the way from the 1st to the 2nd
  CHECK(stats.p95 == Approx(8.3));
  CHECK(stats.firstMaxAtS == Approx(3.5));
}

TEST_CASE("nothingHasNoStatistics") {
  const Stats stats = statsOf({}, 0.5);
  CHECK(stats.n == 0);
  CHECK(std::isnan(stats.mean));
  CHECK(std::isnan(stats.se));
}

TEST_CASE("theErrorOfTheMeanKnowsHowSamplesHangTogether") {
  // AR(1): τ = (1 + φ)/(1 − φ).
  for (const double phi : {0.0, 0.5, 0.9}) {
    double mean = 0;
    for (unsigned seed = 1; seed <= 10; ++seed) mean += autocorrelationTime(autoregressive(phi, 4000, seed)) / 10;
    INFO("phi " << phi);
    CHECK(mean == Approx((1 + phi) / (1 - phi)).epsilon(0.15));
  }
}

TEST_CASE("aLongSeriesGivesTheSameErrorInBlocks") {
  double mean = 0;
  for (unsigned seed = 1; seed <= 6; ++seed) mean += autocorrelationTime(autoregressive(0.9, 40000, seed)) / 6;
  CHECK(mean == Approx(19).epsilon(0.15));
}

TEST_CASE("theStepOfTheSensorIsAFloorOfTheError") {
  const Stats stats = statsOf(evenly(std::vector<double>(500, 80.0)), 0.5);
  CHECK(stats.se == Approx(0.5 / std::sqrt(12.0)));
}

TEST_CASE("aSensorsStepIsFoundAndNotInvented") {
  CHECK(stepOf({20.0, 20.125, 20.375, 21.0, 22.5}) == Approx(0.125));
  CHECK(stepOf({80, 81, 83, 84, 90}) == Approx(1));
  CHECK(stepOf({88, 120}) == 0);
  CHECK(stepOf({1.0, 2.00013, 2.5, 3.7777}) == 0);
  CHECK(estimateStep(std::vector<double>(10, 5.0)) == 0);
}

TEST_CASE("studentsTIsThatOfTheTables") {
  CHECK(studentT95(1) == Approx(12.706).margin(1e-3));
  CHECK(studentT95(4) == Approx(2.776).margin(1e-3));
  CHECK(studentT95(INFINITY) == Approx(1.960).margin(1e-3));
}

TEST_CASE("slicesIncludeTheirStartAndExcludeTheirEnd") {
  const Series part = slice(evenly({0, 1, 2, 3, 4}), {0.5, 1.5});
  CHECK(part.t == std::vector<double>{0.5, 1.0});
  CHECK(interpolate(evenly({0, 10}), 0.25) == Approx(5));
  CHECK(interpolate(evenly({0, 10}), 99) == Approx(10));
}

TEST_CASE("thinningKeepsEverySpikeAndTheOrder") {
  Series series;
  for (int i = 0; i < 50'000; ++i) {
    series.t.push_back(i * 0.5);
    series.v.push_back(i == 31'234 ? 99 : i == 31'236 ? -5 : 50 + i % 3);
  }
  const Series kept = lowestAndHighest(series, 600);
  CHECK(kept.size() <= 1202);
  CHECK(*std::max_element(kept.v.begin(), kept.v.end()) == 99);
  CHECK(*std::min_element(kept.v.begin(), kept.v.end()) == -5);
  for (size_t i = 1; i < kept.size(); ++i) CHECK(kept.t[i] > kept.t[i - 1]);
  CHECK(lowestAndHighest(evenly({1, 2, 3}), 600).v == std::vector<double>{1, 2, 3});
}
