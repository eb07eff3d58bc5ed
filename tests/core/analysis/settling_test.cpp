// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/warm_up/settling.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "sim/bench.h"

using namespace ash;

namespace {

template <typename F>
Series sampled(double fromS, double toS, double stepS, F value) {
  Series series;
  for (double t = fromS; t < toS; t += stepS) {
    series.t.push_back(t);
    series.v.push_back(value(t));
  }
  return series;
}

auto noisy(double sd, unsigned seed) {
  return [random = std::mt19937(seed), normal = std::normal_distribution<double>(0, 1), sd](double) mutable {
    return sd * normal(random);
  };
}

SettlingVerdict judge(const Series& temperature, const Series& room, double stepK, double trendS) {
  SettlingQuestion question;
  question.temperature = temperature;
  if (!temperature.empty()) question.load = {temperature.t.front(), temperature.t.back() + 0.1};
  question.room = room;
  question.stepK = stepK;
  question.trendS = trendS;
  return judgeSettling(question);
}

}  // namespace

TEST_CASE("oneExponentialIsFoundAgain") {
  auto noise = noisy(0.1, 1);
  const Series series = sampled(0, 600, 0.5, [&](double t) { return 80 - 45 * std::exp(-t / 150) + noise(t); });
  const auto fit = fitWarmUp(series);
  REQUIRE(fit.isValid);
  CHECK(fit.finalK == Approx(80).margin(0.15));
  CHECK(fit.finalLowK < 80);
  CHECK(fit.finalHighK > 80);
  REQUIRE(fit.timeConstantsS.size() == 1);
  CHECK(fit.timeConstantsS[0] == Approx(150).epsilon(0.05));
  CHECK(interpolate(fit.remaining, 150) == Approx(45 / std::exp(1.0)).margin(0.2));
}

TEST_CASE("twoExponentialsAreFoundAgain") {
  auto noise = noisy(0.05, 2);
  const Series series =
      sampled(0, 2400, 0.5, [&](double t) { return 81 - 25 * std::exp(-t / 60) - 15 * std::exp(-t / 500) + noise(t); });
  const auto fit = fitWarmUp(series);
  REQUIRE(fit.timeConstantsS.size() == 2);
  CHECK(fit.timeConstantsS[0] == Approx(60).epsilon(0.1));
  CHECK(fit.timeConstantsS[1] == Approx(500).epsilon(0.1));
  CHECK(fit.finalK == Approx(81).margin(0.2));
}

TEST_CASE("aWarmUpInTheMiddleIsNotSettledAndItsForecastHoldsTheTruth") {
  int held = 0;
  for (unsigned seed = 1; seed <= 20; ++seed) {
    auto noise = noisy(0.15, seed);
    const auto series = sampled(0, 300, 0.5, [&](double t) { return 78 - 40 * std::exp(-t / 200) + noise(t); });
    const auto verdict = judge(series, {}, 0, 60);
    CHECK_FALSE(verdict.isSettled);
    CHECK(verdict.remainingK == Approx(40 * std::exp(-1.5)).epsilon(0.25));
    held += verdict.forecastLow <= 78 && verdict.forecastHigh >= 78;
  }
  CHECK(held >= 18);
}

TEST_CASE("settledIsSaidOnceTheRestIsBelowHalfAKelvin") {
  auto noise = noisy(0.1, 3);
  const auto curve = [&](double t) { return 75 - 40 * std::exp(-t / 100) + noise(t); };
  // Half a kelvin is left at 100·ln(80) = 438 s.
  CHECK_FALSE(judge(sampled(0, 350, 0.5, curve), {}, 0, 70).isSettled);
  const auto late = judge(sampled(0, 900, 0.5, curve), {}, 0, 180);
  REQUIRE(late.isSettled);
  CHECK(late.atS == Approx(438).margin(40));
  CHECK(late.forecast == Approx(75).margin(0.1));
}

TEST_CASE("aSlowRiseUnderAFlatLookingEndIsSeen") {
  // 12 K still to come over half an hour: the last five minutes rise by 0.9 K only.
  auto noise = noisy(0.2, 4);
  const auto verdict = judge(
      sampled(0, 300, 0.5, [&](double t) { return 70 - 30 * std::exp(-t / 15) - 12 * std::exp(-t / 1800) + noise(t); }),
      {}, 0, 60);
  CHECK_FALSE(verdict.isSettled);
  CHECK(verdict.forecastHigh > 62);
}

TEST_CASE("aDriftingRoomIsTakenOut") {
  auto noise = noisy(0.05, 5);
  const auto room = sampled(0, 1500, 1, [](double t) { return 20 + t / 750; });
  const auto series =
      sampled(0, 1500, 0.5, [&](double t) { return 20 + t / 750 + 50 - 40 * std::exp(-t / 100) + noise(t); });
  const auto verdict = judge(series, room, 0, 300);
  CHECK(verdict.isSettled);
  // 50 K over a room that is at 22 °C when the window ends. A steady drift felt late looks like one felt at once over a
  // little less: the interval covers both.
  CHECK(verdict.forecast == Approx(72).margin(0.2));
  CHECK(verdict.forecastLow < 72);
  CHECK(verdict.forecastHigh > 72);
  CHECK_FALSE(judge(series, {}, 0, 300).isSettled);
}

TEST_CASE("aCoarseSensorThatHasNotMovedYetIsNotTakenForSettled") {
  const auto verdict =
      judge(sampled(0, 90, 0.5, [](double t) { return std::round(40 + 20 * (1 - std::exp(-t / 3)) + t * 0.008); }), {},
            1, 30);
  CHECK_FALSE(verdict.isSettled);
}

TEST_CASE("tooFewReadingsGiveNoVerdict") {
  CHECK_FALSE(fitWarmUp(sampled(0, 3, 0.5, [](double t) { return t; })).isValid);
  CHECK_FALSE(judge({}, {}, 0, 30).isSettled);
  const auto verdict = judge(sampled(0, 2, 0.5, [](double) { return 20.0; }), {}, 0, 1);
  CHECK(std::isnan(verdict.forecast));
}

TEST_CASE("onTheSimulatedBenchTheForecastHoldsTheSettledValue") {
  // The truth is where the bench really ends after three hours.
  for (const char* setup : {"mesh", "mesh-filter"}) {
    auto spec = *sim::loadBench("larch12", setup);
    spec.room.driftK = 0;
    sim::Bench bench(spec, 11);
    bench.setLoad("vector", 1);
    Series temperature;
    int held = 0, asked = 0;
    for (double t = 0.5; t <= 1500; t += 0.5) {
      bench.advanceTo(t);
      temperature.t.push_back(t);
      temperature.v.push_back(bench.sense(0));
      if (std::fmod(t, 150) == 0 && t >= 600) {
        ++asked;
        auto ahead = bench;
        ahead.advanceTo(10800);
        const auto verdict = judge(temperature, {}, 0.125, 0.2 * t);
        held += ahead.nodeC(0) > verdict.forecastLow - 0.3 && ahead.nodeC(0) < verdict.forecastHigh + 0.3;
      }
    }
    INFO(setup);
    CHECK(held >= asked - 1);
  }
}
