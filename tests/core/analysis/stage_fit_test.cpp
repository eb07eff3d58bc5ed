// SPDX-License-Identifier: GPL-3.0-or-later
// Fits against the certified values of the NIST Statistical Reference Datasets (nonlinear regression:
// https://www.itl.nist.gov/div898/strd/nls/nls_main.shtml).
#include "analysis/warm_up/stage_fit.h"

#include <catch2/catch.hpp>
#include <cmath>

using namespace ash;

namespace {

WeightedSpans points(std::vector<double> x, std::vector<double> y) {
  WeightedSpans spans;
  spans.weight.assign(x.size(), 1);
  spans.fromS = x;
  spans.toS = std::move(x);
  spans.value = std::move(y);
  return spans;
}

/// Number of digits that agree.
double digits(double value, double certified) { return -std::log10(std::abs(value - certified) / std::abs(certified)); }

/// Standard error of coefficient i (final, amplitudes, ln taus).
double errorOf(const StageFit& fit, Eigen::Index i, size_t readings) {
  const double parameters = 2.0 * static_cast<double>(fit.order()) + 1;
  return std::sqrt(fit.covariance(i, i) * fit.rss / (static_cast<double>(readings) - parameters));
}

}  // namespace

TEST_CASE("misra1aIsFittedToItsCertifiedDigits") {
  // y = b1 (1 − exp(−b2 x)): a warm-up from a start that is known to be 0.
  const WeightedSpans spans =
      points({77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0},
             {10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78});
  const StageInput input = StageInput::constant(spans, 0);
  const StageProblem problem{spans, input, 0.0, 1, 1e5};
  for (const double start : {1 / 0.0001, 1 / 0.0005}) {  // both starting values that NIST gives
    const StageFit fit = polish(problem, {start});
    CHECK(fit.hasConverged);
    CHECK(digits(fit.final, 2.3894212918E+02) > 8);
    CHECK(digits(1 / fit.tausS[0], 5.5015643181E-04) > 8);
    CHECK(digits(fit.rss, 1.2455138894E-01) > 8);
    // Two parameters only: the final value is the amplitude.
    const double scatter = std::sqrt(fit.rss / 12);
    CHECK(digits(scatter * std::sqrt(fit.covariance(0, 0)), 2.7070075241E+00) > 4);
    CHECK(digits(scatter * std::sqrt(fit.covariance(2, 2)) / fit.tausS[0], 7.2668688436E-06) > 4);
  }
}

TEST_CASE("boxBodIsFittedToItsCertifiedDigits") {
  const WeightedSpans spans = points({1, 2, 3, 5, 7, 10}, {109, 149, 149, 191, 213, 224});
  const StageInput input = StageInput::constant(spans, 0);
  const StageProblem problem{spans, input, 0.0, 0.01, 1e3};
  for (const double start : {1.0, 1 / 0.75}) {
    const StageFit fit = polish(problem, {start});
    CHECK(digits(fit.final, 2.1380940889E+02) > 7);
    CHECK(digits(1 / fit.tausS[0], 5.4723748542E-01) > 7);
    CHECK(digits(fit.rss, 1.1680088766E+03) > 8);
  }
}

TEST_CASE("mgh17IsFittedToItsCertifiedDigits") {
  // y = b1 + b2 exp(−x b4) + b3 exp(−x b5): two stages of opposite sign that nearly cancel each other.
  std::vector<double> x;
  for (int i = 0; i < 33; ++i) x.push_back(10.0 * i);
  const WeightedSpans spans =
      points(x, {8.44E-01, 9.08E-01, 9.32E-01, 9.36E-01, 9.25E-01, 9.08E-01, 8.81E-01, 8.50E-01, 8.18E-01,
                 7.84E-01, 7.51E-01, 7.18E-01, 6.85E-01, 6.58E-01, 6.28E-01, 6.03E-01, 5.80E-01, 5.58E-01,
                 5.38E-01, 5.22E-01, 5.06E-01, 4.90E-01, 4.78E-01, 4.67E-01, 4.57E-01, 4.48E-01, 4.38E-01,
                 4.31E-01, 4.24E-01, 4.20E-01, 4.14E-01, 4.11E-01, 4.06E-01});
  const StageInput input = StageInput::constant(spans, 0);
  const StageProblem problem{spans, input, {}, 1, 2000};
  const StageFit fit = polish(problem, startingPoints(problem, 2).back(), 200);
  REQUIRE(fit.order() == 2);
  CHECK(digits(fit.final, 3.7541005211E-01) > 6);
  CHECK(digits(-fit.amplitudes[1], 1.9358469127E+00) > 5);
  CHECK(digits(-fit.amplitudes[0], -1.4646871366E+00) > 5);
  CHECK(digits(1 / fit.tausS[1], 1.2867534640E-02) > 6);
  CHECK(digits(1 / fit.tausS[0], 2.2122699662E-02) > 6);
  CHECK(digits(fit.rss, 5.4648946975E-05) > 8);
  CHECK(digits(errorOf(fit, 0, 33), 2.0723153551E-03) > 4);
  CHECK(digits(errorOf(fit, 3, 33) / fit.tausS[0], 8.9471996575E-04) > 4);
  CHECK(digits(errorOf(fit, 4, 33) / fit.tausS[1], 4.4861358114E-04) > 4);
}

TEST_CASE("aStageFollowsAnInputThatIsConstantInPieces") {
  // 100 s of input 0.5 from rest at 0.5, then 1: u = 1 − 0.5 exp(−t/τ).
  WeightedSpans spans = points({0, 10, 30}, {0, 0, 0});
  const StageInput input = StageInput::of(spans, {{100, 0.5}}, {1, 1, 1}, {1, 1, 1});
  Eigen::VectorXd ends, byLogTau;
  const Eigen::VectorXd means = input.means(20, &ends, &byLogTau);
  for (Eigen::Index i = 0; i < 3; ++i) {
    const double t = spans.fromS[static_cast<size_t>(i)];
    CHECK(means[i] == Approx(-0.5 * std::exp(-t / 20)));
    CHECK(ends[i] == Approx(-0.5 * std::exp(-t / 20)));
    CHECK(byLogTau[i] == Approx(-0.5 * std::exp(-t / 20) * t / 20).margin(1e-12));
  }
}

TEST_CASE("meansOverSpansAreThoseOfTheIntegral") {
  WeightedSpans spans;
  spans.fromS = {5};
  spans.toS = {25};
  spans.value = {0};
  spans.weight = {1};
  const StageInput input = StageInput::constant(spans, 0);
  // ∫ exp(−t/10) dt from 5 to 25, over 20.
  const double expected = -10 * (std::exp(-0.5) - std::exp(-2.5)) / 20;
  Eigen::VectorXd ends, byLogTau;
  CHECK(input.means(10, &ends, &byLogTau)[0] == Approx(expected));
  const double up = input.means(10.001)[0], down = input.means(9.999)[0];
  CHECK(byLogTau[0] == Approx((up - down) / 0.002 * 10).epsilon(1e-5));
}
