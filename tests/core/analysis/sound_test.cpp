// SPDX-License-Identifier: GPL-3.0-or-later
// What a microphone heard in the window of a run.
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "analysis/catalogue/metrics.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr double kLoudFromS = 120, kWindowFromS = 600, kListenedS = 1200;

// A run that warms up, with ten minutes of window; the level is 30 dB at rest and alternates 40 and 46 under load.
LogMaker listening(const std::string& level) {
  LogMaker maker(kListenedS, 1);
  maker.phase(PhaseKind::Idle, 0, kLoudFromS).phase(PhaseKind::Soak, kLoudFromS, kWindowFromS);
  maker.phase(PhaseKind::Measure, kWindowFromS, kListenedS);
  WarmUp warmUp;
  warmUp.loadS = kLoudFromS;
  maker.add("cpu.temp", warmUp.function());
  maker.add(level, [](double t) { return t < kLoudFromS ? 30.0 : static_cast<int>(t) % 2 == 0 ? 40.0 : 46.0; });
  return maker;
}

// 10·lg((10⁴ + 10⁴·⁶) / 2): the equivalent level of equal times at 40 and 46 dB.
const double kEquivalent = 10 * std::log10((std::pow(10, 4.0) + std::pow(10, 4.6)) / 2);

}  // namespace

TEST_CASE("theLevelOfTheWindowIsThatOfItsEnergy") {
  LogMaker maker = listening("noise");
  maker.add("noise.band1000", [](double) { return 35.0; }).add("noise.band125", [](double t) {
    return t < 900 ? 20.0 : NAN;
  });
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.sound);
  CHECK(figures.sound->isCalibrated);
  CHECK(*figures.sound->levelDb == Approx(kEquivalent).margin(0.01));
  CHECK(*figures.sound->overRestDb == Approx(kEquivalent - 30).margin(0.01));
  REQUIRE(figures.sound->bands.size() == 2);
  CHECK(figures.sound->bands[0].hz == 125);
  CHECK(figures.sound->bands[0].db == Approx(20));
  CHECK(figures.sound->bands[1].hz == 1000);
}

TEST_CASE("aToneCountsWhenItStandsOutMostOfTheTime") {
  LogMaker maker = listening("noise");
  maker.add("noise.band1000", [](double) { return 35.0; });
  // A whine near 2350 Hz that drifts by some hertz, in whichever place; another for a fifth of the window.
  const auto isSecond = [](double t) { return static_cast<int>(t) % 5 == 0; };
  maker.add("noise.tone1", [&](double t) { return isSecond(t) ? 430.0 : 2350 + 10 * std::sin(t); });
  maker.add("noise.tone1.over", [&](double t) { return isSecond(t) ? 25.0 : 12.0; });
  maker.add("noise.tone2", [&](double t) { return isSecond(t) ? 2350 + 10 * std::sin(t) : NAN; });
  maker.add("noise.tone2.over", [&](double t) { return isSecond(t) ? 12.0 : NAN; });
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.sound);
  REQUIRE(figures.sound->tones.size() == 1);
  CHECK(figures.sound->tones[0].hz == Approx(2350).margin(2));
  CHECK(figures.sound->tones[0].overDb == Approx(12));
  CHECK(figures.sound->tones[0].share == Approx(1));
}

TEST_CASE("anUncalibratedMicrophoneTellsHowMuchLouderThanAtRest") {
  LogMaker maker = listening("noise.relative");
  const Figures figures = analyzeRun(maker.run);
  REQUIRE(figures.sound);
  CHECK_FALSE(figures.sound->isCalibrated);
  const MetricValues metrics = metricsOf(maker.run, figures);
  REQUIRE(metrics.contains(FigureId::NoiseOverRest));
  CHECK(metrics.at(FigureId::NoiseOverRest).value == Approx(kEquivalent - 30).margin(0.01));
  CHECK_FALSE(metrics.contains(FigureId::Noise));
}

TEST_CASE("aLevelThatWasLoggedByAnotherProgramIsNoMicrophoneOfOurs") {
  CHECK_FALSE(analyzeRun(listening("noise").run).sound);
  LogMaker silent(kListenedS, 1);
  silent.add("cpu.temp", WarmUp().function());
  CHECK_FALSE(analyzeRun(silent.run).sound);
}
