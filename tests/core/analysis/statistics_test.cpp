// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series/statistics.h"
#include "analysis/series/series.h"

#include "analysis/series/thinning.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>
#include <vector>

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

TEST_CASE("standardErrorsOfAutoregressiveNoiseAreThoseOfTheFormula") {
  // Var(mean) = σ²/n · (1 + φ)/(1 − φ) for n samples of AR(1) noise; σ² = 1/(1 − φ²) for innovations of variance 1.
  for (const double phi : {0.0, 0.5, 0.8, 0.95}) {
    for (const size_t n : {size_t{2000}, size_t{12000}}) {
      double squares = 0;
      constexpr int kRuns = 40;
      for (unsigned seed = 1; seed <= kRuns; ++seed) {
        const double se = statsOf(evenly(autoregressive(phi, n, seed)), 0).se;
        squares += se * se / kRuns;
      }
      const double known = std::sqrt(1 / (1 - phi * phi) / static_cast<double>(n) * (1 + phi) / (1 - phi));
      INFO("phi " << phi << ", n " << n << ": " << std::sqrt(squares) << " for " << known);
      CHECK(std::sqrt(squares) == Approx(known).epsilon(0.1));
    }
  }
}

TEST_CASE("statisticsHaveTheCertifiedDigitsOfNist") {
  // NIST StRD, univariate summary statistics: NumAcc3 and NumAcc4 (made to lose digits), and Michelso, verified here by
  // its own certified values.
  const auto alternating = [](double middle) {
    std::vector<double> values = {middle};
    for (int i = 0; i < 500; ++i) values.insert(values.end(), {middle - 0.1, middle + 0.1});
    return values;
  };
  const Stats third = statsOf(evenly(alternating(1000000.2)), 0);
  CHECK(third.mean == Approx(1000000.2).epsilon(1e-14));
  CHECK(third.sd == Approx(0.1).epsilon(1e-8));
  const Stats fourth = statsOf(evenly(alternating(10000000.2)), 0);
  CHECK(fourth.mean == Approx(10000000.2).epsilon(1e-14));
  CHECK(fourth.sd == Approx(0.1).epsilon(1e-7));
  const Stats light = statsOf(
      evenly({299.85, 299.74, 299.90, 300.07, 299.93, 299.85, 299.95, 299.98, 299.98, 299.88, 300.00, 299.98, 299.93,
              299.65, 299.76, 299.81, 300.00, 300.00, 299.96, 299.96, 299.96, 299.94, 299.96, 299.94, 299.88, 299.80,
              299.85, 299.88, 299.90, 299.84, 299.83, 299.79, 299.81, 299.88, 299.88, 299.83, 299.80, 299.79, 299.76,
              299.80, 299.88, 299.88, 299.88, 299.86, 299.72, 299.72, 299.62, 299.86, 299.97, 299.95, 299.88, 299.91,
              299.85, 299.87, 299.84, 299.84, 299.85, 299.84, 299.84, 299.84, 299.89, 299.81, 299.81, 299.82, 299.80,
              299.77, 299.76, 299.74, 299.75, 299.76, 299.91, 299.92, 299.89, 299.86, 299.88, 299.72, 299.84, 299.85,
              299.85, 299.78, 299.89, 299.84, 299.78, 299.81, 299.76, 299.81, 299.79, 299.81, 299.82, 299.85, 299.87,
              299.87, 299.81, 299.74, 299.81, 299.94, 299.95, 299.80, 299.81, 299.87}),
      0);
  CHECK(light.mean == Approx(299.852400000000).epsilon(1e-14));
  CHECK(light.sd == Approx(0.0790105478190518).epsilon(1e-12));
}

TEST_CASE("theMedianOfManyIsThatOfASortedRow") {
  std::mt19937 random(11);
  std::normal_distribution<double> normal(0.5, 0.004);
  std::uniform_real_distribution<double> even(0, 1);
  for (const size_t count : {10'000, 10'001, 60'000, 60'001}) {
    for (int kind = 0; kind < 6; ++kind) {
      std::vector<double> values(count);
      for (size_t i = 0; i < count; ++i) {
        values[i] = kind == 0   ? normal(random)
                    : kind == 1 ? 0.5                                    // all alike
                    : kind == 2 ? static_cast<double>(i)                 // sorted
                    : kind == 3 ? (i % 60 == 0 ? 1000.0 : even(random))  // a sample sees other values only
                    : kind == 4 ? (i < count / 2 ? 1.0 : 2.0)            // the middle between two values
                                : std::round(even(random) * 3);          // a few values
      }
      std::vector<double> sorted = values;
      std::sort(sorted.begin(), sorted.end());
      const double expected = count % 2 == 1 ? sorted[count / 2] : (sorted[count / 2 - 1] + sorted[count / 2]) / 2;
      INFO(count << ", kind " << kind);
      CHECK(medianOf(values) == expected);
    }
  }
}
