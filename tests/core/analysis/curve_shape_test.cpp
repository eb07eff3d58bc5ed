// SPDX-License-Identifier: GPL-3.0-or-later
// What lies between the rungs of a ladder: the interval of what is read off there holds the truth.
#include "analysis/comparison/curve_shape.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <random>

#include "analysis/comparison/ladder.h"
#include "analysis/series/statistics.h"

using namespace ash;

namespace {

using Curve = std::function<double(double)>;

// Kelvin over noise, clock over power, temperature over a duty: falling and rising, bent little and much.
Curve anyCurve(std::mt19937_64& random) {
  std::uniform_real_distribution<double> any(0, 1);
  const double height = 5 + 30 * any(random), bend = 0.3 + 2.5 * any(random), base = 20 + 40 * any(random);
  switch (std::uniform_int_distribution<int>(0, 3)(random)) {
    case 0:
      return [=](double u) { return base + height * std::exp(-bend * u); };
    case 1:
      return [=](double u) { return base + height * std::pow(1 + bend * u, -0.8); };
    case 2:
      return [=](double u) { return base + height * std::pow(0.1 + u, 0.35 + bend / 6); };
    default:
      return [=](double u) { return base - height * u * (1 + 0.2 * bend * u); };
  }
}

struct Cover {
  int held = 0, of = 0;
  double share() const { return double(held) / of; }
};

// Ladders of such curves with `rungs` settings, read off at any place between them.
Cover laddersRead(size_t rungs, double sd, bool isInverse, std::mt19937_64& random) {
  Cover cover;
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> any(0, 1);
  for (int ladder = 0; ladder < 600; ++ladder) {
    const Curve curve = anyCurve(random);
    std::vector<Rung> measured;
    for (size_t k = 0; k < rungs; ++k) {
      // Settings are never spaced evenly in what they come to.
      const double u = (double(k) + 0.5 * (any(random) - 0.5) * (k > 0 && k + 1 < rungs)) / double(rungs - 1);
      // Three repeats, whose own scatter is what is known of them.
      std::vector<double> values;
      for (int repeat = 0; repeat < 3; ++repeat) values.push_back(curve(u) + sd * normal(random));
      const Pooled mean = pooledValues(values, {0, 0, 0});
      measured.push_back({30 + 15 * u, mean.mean, 0, mean.variance, mean.degrees});
    }
    const double u = 0.02 + 0.96 * any(random);
    const ReadOff read =
        isInverse ? settingThatMeets(measured, curve(u), "K") : readOff(measured, 30 + 15 * u, "Noise", "dBA");
    if (std::isnan(read.value)) continue;
    const double truth = isInverse ? 30 + 15 * u : curve(u);
    cover.held += std::abs(read.value - truth) <= studentT95(read.degrees) * std::sqrt(read.variance);
    ++cover.of;
  }
  return cover;
}

}  // namespace

TEST_CASE("ofTwoPointsOnlyWhatIsUsualIsKnownOfTheShape") {
  // A process pinned at 0 and 1: u²(1 − u)²/3 of what its slope wanders by, here 0.65 of the square of the height.
  for (const double u : {0.0, 0.25, 0.5, 0.9, 1.0}) {
    const ShapeDoubt doubt = shapeDoubt({10, 30}, {4, 1}, {0, 0}, 10 + 20 * u);
    CHECK(doubt.variance == Approx(0.65 * 9 * u * u * (1 - u) * (1 - u) / 3).margin(1e-12));
  }
}

TEST_CASE("theMoreRungsTheLessShapeIsInDoubt") {
  const auto doubtOf = [](size_t rungs) {
    std::vector<double> x, y;
    for (size_t i = 0; i < rungs; ++i) {
      x.push_back(double(i) / double(rungs - 1));
      y.push_back(std::exp(-x.back()));
    }
    return std::sqrt(shapeDoubt(x, y, std::vector<double>(rungs, 0.0), 0.5 / double(rungs - 1)).variance);
  };
  // Between neighbours a distance h apart it goes with h^(3/2) at least.
  CHECK(doubtOf(5) < doubtOf(3) / 2);
  CHECK(doubtOf(9) < doubtOf(5) / 2);
}

TEST_CASE("whatIsReadOffALadderHoldsTheTruth") {
  std::mt19937_64 random(18);
  for (const bool isInverse : {false, true}) {
    for (const size_t rungs : {size_t{2}, size_t{3}, size_t{4}, size_t{6}}) {
      Cover all;
      for (const double sd : {0.05, 0.2, 0.5}) {
        const Cover cover = laddersRead(rungs, sd, isInverse, random);
        CAPTURE(rungs, sd, isInverse, cover.share(), cover.of);
        CHECK(cover.share() >= 0.9);
        all.held += cover.held;
        all.of += cover.of;
      }
      CAPTURE(rungs, isInverse, all.share());
      CHECK(all.share() >= 0.92);
      CHECK(all.share() <= 0.985);
    }
  }
}
