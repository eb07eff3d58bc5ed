// SPDX-License-Identifier: GPL-3.0-or-later
// Pairs of logs whose clocks are known: the offset is found within a sample, or it is said that it cannot be told.
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <random>

#include "analysis/alignment/clock_offset.h"
#include "analysis/alignment/shape_grid.h"

using namespace ash;

namespace {

using ClockShape = std::function<double(double)>;

/// What a log is made with; run time = offsetS + log time · (1 + drift).
struct ClockSampling {
  double fromS = 0, toS = 0, stepS = 1, noise = 0, gain = 1, base = 0, offsetS = 0, drift = 0;
  bool hasGaps = false;
};

class ClockBench {
 public:
  explicit ClockBench(unsigned seed) : m_random(seed) {}
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(m_random); }

  // A load of many steps: rest, work of several strengths, rest.
  ClockShape steps(double lengthS) {
    auto at = std::make_shared<std::vector<std::pair<double, double>>>();
    for (double t = 0; t < lengthS; t += between(20, 200)) at->push_back({t, between(8, 120)});
    return [at](double t) {
      double value = at->front().second;
      for (const auto& [from, level] : *at) value = from <= t ? level : value;
      return value;
    };
  }

  // One load between rests.
  ClockShape plateau(double fromS, double toS) {
    return [fromS, toS](double t) { return t < fromS || t > toS ? 9.0 : 88 + 4 * std::exp(-(t - fromS) / 200); };
  }

  Series sampled(const ClockShape& shape, const ClockSampling& how) {
    std::normal_distribution<double> noise;
    const double gapS = how.hasGaps ? between(how.fromS, how.toS) : INFINITY, gapEndS = gapS + 40;
    Series series;
    for (double t = how.fromS; t < how.toS; t += how.stepS) {
      const double at = t + between(-0.02, 0.02) * how.stepS;
      if ((at > gapS && at < gapEndS) || (how.hasGaps && between(0, 1) < 0.01)) continue;
      series.t.push_back((at - how.offsetS) / (1 + how.drift));
      series.v.push_back(how.base + how.gain * shape(at) + how.noise * noise(m_random));
    }
    return series;
  }

 private:
  std::mt19937 m_random;
};

}  // namespace

TEST_CASE("pairsWithDriftGapsAndNoiseAreFoundWithinASample") {
  int found = 0, within = 0, covered = 0;
  for (unsigned seed = 0; seed < 60; ++seed) {
    ClockBench bench(seed);
    const double lengthS = bench.between(900, 3600);
    const ClockShape shape = bench.steps(lengthS);
    const ClockSampling run{
        .toS = lengthS, .stepS = bench.between(0.5, 2), .noise = bench.between(0.1, 2), .hasGaps = seed % 2 == 0};
    ClockSampling log{.fromS = bench.between(0, 0.2) * lengthS,
                      .toS = bench.between(0.8, 1) * lengthS,
                      .stepS = bench.between(0.5, 3),
                      .noise = bench.between(0.1, 3),
                      .gain = 1.15,
                      .base = 22,
                      .offsetS = bench.between(-300, 300),
                      .drift = bench.between(-2e-4, 2e-4),
                      .hasGaps = seed % 3 == 0};
    const Series ofRun = bench.sampled(shape, run), ofLog = bench.sampled(shape, log);
    const auto offset = findClockOffset(ofRun, ofLog);
    if (!offset) continue;
    ++found;
    const double middle = (ofLog.t.front() + ofLog.t.back()) / 2;
    const double truth = log.offsetS + middle * (1 + log.drift);
    const double told = offset->offsetS + middle * (1 + offset->driftPpm.value_or(0) * 1e-6);
    within += std::abs(told - truth) <= std::max(run.stepS, log.stepS);
    const double atStart = offset->driftPpm ? log.offsetS : truth - middle;
    covered += offset->offsetLowS <= atStart && atStart <= offset->offsetHighS;
  }
  CHECK(found >= 58);
  CHECK(within >= found - 1);
  CHECK(covered >= 0.92 * found);
}

TEST_CASE("logsThatShareNothingAreRefused") {
  int taken = 0;
  for (unsigned seed = 0; seed < 60; ++seed) {
    ClockBench bench(1000 + seed);
    const double one = bench.between(900, 3600), other = bench.between(900, 3600);
    const auto shape = [&](double lengthS) {
      return seed % 3 == 0 ? bench.plateau(bench.between(0.1, 0.3) * lengthS, bench.between(0.6, 0.9) * lengthS)
                           : bench.steps(lengthS);
    };
    const Series run = bench.sampled(shape(one), {.toS = one, .noise = 1}),
                 log = bench.sampled(shape(other), {.toS = other, .stepS = 1.3, .noise = 1});
    taken += findClockOffset(run, log).has_value();
  }
  CHECK(taken <= 1);
}

TEST_CASE("aSingleStepIsInEveryLogAndTellsNothing") {
  ClockBench bench(1);
  const ClockShape step = [](double t) { return t < 400 ? 9.0 : 88.0; };
  const Series run = bench.sampled(step, {.toS = 1200, .noise = 0.5}),
               log = bench.sampled(step, {.toS = 1200, .noise = 0.5, .offsetS = 30});
  CHECK_FALSE(findClockOffset(run, log));
  // A second one that fits says it.
  const ClockShape both = bench.plateau(400, 900);
  const auto found = findClockOffset(bench.sampled(both, {.toS = 1200, .noise = 0.5}),
                                     bench.sampled(both, {.toS = 1200, .noise = 0.5, .offsetS = 30}));
  REQUIRE(found);
  CHECK(std::abs(found->offsetS - 30) < 1);
}

TEST_CASE("aPatternThatRepeatsItselfIsNoPlace") {
  ClockBench bench(2);
  const ClockShape passes = [](double t) { return std::fmod(t, 60) < 40 ? 88.0 : 40.0; };
  // Both begin and end within the passes: every minute fits as well as the next.
  CHECK_FALSE(findClockOffset(bench.sampled(passes, {.toS = 3000, .noise = 0.5}),
                              bench.sampled(passes, {.fromS = 610, .toS = 2200, .noise = 0.5})));
}

TEST_CASE("theDriftOfALongPairIsToldAndThatOfAShortOneIsNot") {
  ClockBench bench(3);
  const ClockShape shape = bench.steps(24 * 3600.0);
  const double ppm = 80;
  const auto day =
      findClockOffset(bench.sampled(shape, {.toS = 86400, .stepS = 2, .noise = 1}),
                      bench.sampled(shape, {.toS = 86400, .stepS = 2, .noise = 1, .offsetS = 12, .drift = ppm * 1e-6}));
  REQUIRE(day);
  REQUIRE(day->driftPpm);
  CHECK(std::abs(*day->driftPpm - ppm) < 10);
  CHECK(std::abs(day->offsetS - 12) < 2);
  const auto minutes =
      findClockOffset(bench.sampled(shape, {.toS = 900, .noise = 1}),
                      bench.sampled(shape, {.toS = 900, .noise = 1, .offsetS = 12, .drift = ppm * 1e-6}));
  REQUIRE(minutes);
  CHECK_FALSE(minutes->driftPpm);
}

TEST_CASE("likenessAtEveryDistanceIsTheCorrelationOfWhatBothHave") {
  // By hand, at one distance: the formula of Pearson over the cells that both have.
  const std::vector<double> run = {1, 4, kMissing, 2, 8, 5, 7}, log = {3, 1, 2, 9};
  const LikenessAtEveryDistance likeness(run, log);
  for (long long distance = likeness.lowest(); distance <= likeness.highest(); ++distance) {
    std::vector<double> x, y;
    for (long long i = 0; i < 4; ++i) {
      const long long at = i + distance;
      if (at < 0 || at >= 7 || std::isnan(run[static_cast<size_t>(at)])) continue;
      x.push_back(run[static_cast<size_t>(at)]);
      y.push_back(log[static_cast<size_t>(i)]);
    }
    CHECK(likeness.at(distance).cells == static_cast<double>(x.size()));
    if (x.size() < 3) continue;
    const double n = static_cast<double>(x.size());
    double sx = 0, sy = 0, sxx = 0, syy = 0, sxy = 0;
    for (size_t i = 0; i < x.size(); ++i)
      sx += x[i], sy += y[i], sxx += x[i] * x[i], syy += y[i] * y[i], sxy += x[i] * y[i];
    const double expected = (sxy - sx * sy / n) / std::sqrt((sxx - sx * sx / n) * (syy - sy * sy / n));
    INFO("distance " << distance);
    CHECK(likeness.at(distance).correlation == Approx(expected).margin(1e-9));
  }
}
