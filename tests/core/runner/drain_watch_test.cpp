// SPDX-License-Identifier: GPL-3.0-or-later
// What is told of a battery while it is run down, on gauges whose end is known.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "runner/drain_watch.h"

using namespace ash;

namespace {

Phase untilCharge(double percent) {
  EndsAtCharge end;
  end.percent = percent;
  return {PhaseKind::Measure, end};
}

/// A battery under a load whose power wanders slowly, read by a gauge of whole percents once a second.
struct Gauge {
  double lastsS;  ///< from full, at the mean power
  double wander;  ///< standard deviation of the power's slow part, of its mean
  unsigned seed;
  double slownessS = 120;

  /// Until it holds so many percent; `at` is called with each reading. Returns when it was there.
  template <typename F>
  double runDown(double percent, F at) const {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    const double stays = std::exp(-1 / slownessS);
    double charge = 97.3, slow = 0, t = 0;
    while (charge > percent) {
      at(t, std::ceil(charge));
      slow = stays * slow + std::sqrt(1 - stays * stays) * wander * normal(random);
      charge -= 100 / lastsS * (1 + slow);
      t += 1;
    }
    return t;
  }
};

}  // namespace

TEST_CASE("aBatterysEndIsToldWithinItsInterval") {
  int asked = 0, held = 0;
  double widest = 0;
  for (unsigned seed = 1; seed <= 60; ++seed) {
    const Gauge gauge{1800.0 + 100 * seed, 0.08, seed};
    const double endS = gauge.runDown(10, [](double, double) {});
    // Asked at a quarter, half and three quarters of the way.
    for (const double share : {0.25, 0.5, 0.75}) {
      DrainWatch watch;
      Estimate told;
      double atS = 0;
      gauge.runDown(10, [&](double t, double percent) {
        if (t > share * endS) return;
        watch.take(1, t, percent);
        atS = t;
      });
      told = watch.leftS(untilCharge(10));
      const double left = endS - atS;
      REQUIRE(std::isfinite(told.value));
      CHECK(told.value == Approx(left).epsilon(0.15));
      ++asked;
      if (told.low <= left && left <= told.high) ++held;
      widest = std::max(widest, (told.high - told.low) / left);
    }
  }
  INFO(held << " of " << asked << ", widest " << widest);
  CHECK(held >= asked * 90 / 100);
  CHECK(widest < 1);
}

TEST_CASE("aRunDownIsForecastOnlyWhereItCanBeTold") {
  DrainWatch watch;
  CHECK_FALSE(std::isfinite(watch.leftS(untilCharge(20)).value));
  // A minute in which the gauge does not move, then a straight fall of 1 % a minute.
  for (int t = 0; t < 60; ++t) watch.take(0, t, 90);
  CHECK_FALSE(std::isfinite(watch.leftS(untilCharge(20)).value));
  for (int t = 60; t <= 1260; ++t) watch.take(0, t, 90 - (t - 60) / 60.0);
  const Estimate left = watch.leftS(untilCharge(20));
  CHECK(left.value == Approx(50 * 60).epsilon(0.03));
  // A phase that ends otherwise has no such end, and another phase begins anew.
  CHECK_FALSE(std::isfinite(watch.leftS({PhaseKind::Measure, EndsAfter{60}}).value));
  watch.take(1, 1261, 70);
  CHECK_FALSE(std::isfinite(watch.leftS(untilCharge(20)).value));
}

TEST_CASE("aDayOfRunningDownIsToldToTheSecondItIsAskedAt") {
  DrainWatch watch;
  const double everyS = 864;  // 100 % in a day
  double worstS = 0;
  for (int t = 0; t <= 60000; ++t) {
    watch.take(3, t, 100 - t / everyS);
    // A straight line is known exactly; what was thinned out of it changes nothing.
    if (t < 4000) continue;
    worstS = std::max(worstS, std::abs(watch.leftS(untilCharge(5)).value - (95 * everyS - t)));
  }
  CHECK(worstS < 1);
}

TEST_CASE("theWordsOfARunDownNameItsChargeAndItsInterval") {
  CHECK(drainedInWords({3720, 3600, 4000}, untilCharge(0)) ==
        "the battery is empty in about 1:02:00 (1:00:00 to 1:06:40)");
  CHECK(drainedInWords({90, 80, 100}, untilCharge(20)) == "the battery is at 20 % in about 1:30 (1:20 to 1:40)");
  CHECK(drainedInWords({}, untilCharge(20)).empty());
  CHECK(drainedInWords({90, 80, 100}, {PhaseKind::Measure, EndsAfter{60}}).empty());
}
