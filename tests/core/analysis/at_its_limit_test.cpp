// SPDX-License-Identifier: GPL-3.0-or-later
// A device that is held at its limit: settled by what it delivers, held against a physics that is solved here.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/analyze.h"
#include "analysis/warm_up/settling.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// A die on a slow sink, held at 95 °C by a perfect governor: the die is at its limit from the start, and the sink's
/// kelvin follow the watts. dS/dt = (R₂·P − S)/τ₂ with P = (95 − room − S)/R₁ is one exponential of τ₂·R₁/(R₁ + R₂).
struct Held {
  double fastKPerW = 0.45, slowKPerW = 0.55, slowS = 900, roomC = 23, limitC = 95, idleS = 120, restW = 10;
  double endW() const { return (limitC - roomC) / (fastKPerW + slowKPerW); }
  double tauS() const { return slowS * fastKPerW / (fastKPerW + slowKPerW); }
  double startW() const { return (limitC - roomC - slowKPerW * restW) / fastKPerW; }
  double powerW(double t) const {
    return t < idleS ? restW : endW() + (startW() - endW()) * std::exp(-(t - idleS) / tauS());
  }
  /// When half a percent is still to be lost.
  double settlesAtS() const { return idleS + tauS() * std::log((startW() / endW() - 1) / 0.005); }
};

LogMaker logOf(const Held& held, double lengthS, unsigned seed, double noiseW = 0.5, bool hasPower = true) {
  LogMaker maker(lengthS, 1);
  std::mt19937 random(seed);
  std::normal_distribution<double> normal;
  maker.add("cpu.temp", [&](double t) {
    const double restC = held.roomC + (held.fastKPerW + held.slowKPerW) * held.restW;
    return t < held.idleS ? restC : held.limitC + 0.1 * normal(random);
  });
  if (hasPower) maker.add("cpu.power", [&](double t) { return held.powerW(t) + noiseW * normal(random); });
  // A clock that goes with the watts: P ~ f^2.2.
  maker.add("cpu.clock", [&](double t) {
    return t < held.idleS ? 1800 : 4600 * std::pow(held.powerW(t) / 110, 1 / 2.2) + 15 * normal(random);
  });
  maker.add("cpu.load", [&](double t) { return t < held.idleS ? 2.0 : 100.0; });
  maker.add("room.temp", [&](double) { return held.roomC; });
  maker.run.facts.limits["cpu.temp"]["throttle"] = held.limitC;
  return maker;
}

SettlingVerdict settledOf(const Figures& figures) { return *figures.channel("cpu.temp")->settled; }

}  // namespace

TEST_CASE("aPinnedDeviceHasNotSettledWhileItsPowerStillFalls") {
  const Held held;
  const Figures figures = analyzeRun(logOf(held, held.idleS + 2.5 * held.tauS(), 1).run);
  const SettlingVerdict verdict = settledOf(figures);
  CHECK(verdict.isGoverned);
  CHECK_FALSE(verdict.isSettled);
  REQUIRE(verdict.held.size() == 2);
  CHECK(verdict.held[0].channel == "cpu.power");
  CHECK(verdict.held[0].value == Approx(held.endW()).epsilon(0.015));
  // e^-2.5 of what it had too much in the beginning.
  const double leftPercent = 100 * (held.startW() / held.endW() - 1) * std::exp(-2.5);
  CHECK(verdict.held[0].remainingPercent == Approx(leftPercent).margin(1.5));
  bool isSaid = false;
  for (const Problem& problem : figures.problems) {
    if (problem.kind == ProblemKind::NotSettled) isSaid = problem.text.find("it will hold ") != std::string::npos;
  }
  CHECK(isSaid);
}

TEST_CASE("thePinnedWindowBeginsWhereWhatIsDeliveredHasSettled") {
  const Held held;
  const Figures figures = analyzeRun(logOf(held, 7200, 2).run);
  const SettlingVerdict verdict = settledOf(figures);
  REQUIRE(verdict.isSettled);
  CHECK(verdict.atS == Approx(held.settlesAtS()).epsilon(0.08));
  REQUIRE(figures.window);
  CHECK(figures.window->span.startS == Approx(verdict.atS));
  CHECK(figures.channel("cpu.power")->window.mean == Approx(held.endW()).epsilon(0.003));
  REQUIRE(figures.heat.size() == 1);
  // Of all stages, not of those alone that had warmed up when the limit was reached.
  CHECK(figures.heat[0].resistance->value == Approx(held.fastKPerW + held.slowKPerW).epsilon(0.005));
  CHECK(verdict.held[1].channel == "cpu.clock");
  CHECK(verdict.held[1].value == Approx(4600 * std::pow(held.endW() / 110, 1 / 2.2)).epsilon(0.004));
}

TEST_CASE("withoutPowerTheClockDecides") {
  const Held held;
  const SettlingVerdict early = settledOf(analyzeRun(logOf(held, held.idleS + 2 * held.tauS(), 3, 0, false).run));
  CHECK_FALSE(early.isSettled);
  const SettlingVerdict late = settledOf(analyzeRun(logOf(held, 6000, 3, 0, false).run));
  CHECK(late.isSettled);
  REQUIRE(late.held.size() == 1);
  CHECK(late.held[0].value == Approx(4600 * std::pow(held.endW() / 110, 1 / 2.2)).epsilon(0.003));
}

TEST_CASE("theForecastOfWhatIsHeldNarrowsAndKeepsTheTruth") {
  const Held held;
  int kept = 0, asked = 0;
  double widthBefore = 0, widthAfter = 0;
  for (unsigned seed = 1; seed <= 12; ++seed) {
    for (const double taus : {1.5, 3.0, 6.0}) {
      const SettlingVerdict verdict = settledOf(analyzeRun(logOf(held, held.idleS + taus * held.tauS(), seed).run));
      const HeldForecast& power = verdict.held.at(0);
      ++asked;
      kept += power.low - 0.02 <= held.endW() && held.endW() <= power.high + 0.02;
      if (taus < 2) widthBefore += power.high - power.low;
      if (taus > 5) widthAfter += power.high - power.low;
    }
  }
  INFO(kept << " of " << asked);
  CHECK(kept >= 0.9 * asked);
  CHECK(widthAfter < 0.3 * widthBefore);
}

TEST_CASE("aRoomThatFallsIsNoPowerThatGrows") {
  Held held;
  LogMaker maker = logOf(held, 7200, 5);
  // By 2 K over the whole: 2.8 % more watts are carried away, and none of it is settling.
  for (Channel& channel : maker.run.log.channels) {
    for (size_t i = 0; i < channel.values.size(); ++i) {
      const double downK = 2 * maker.run.log.timeS[i] / 7200;
      if (channel.name == "room.temp") channel.values[i] -= downK;
      if (channel.name == "cpu.power" && maker.run.log.timeS[i] >= held.idleS)
        channel.values[i] *= (held.limitC - held.roomC + downK) / (held.limitC - held.roomC);
    }
  }
  const SettlingVerdict verdict = settledOf(analyzeRun(maker.run));
  CHECK(verdict.isSettled);
  CHECK(verdict.held.at(0).value == Approx(held.endW() * 74 / 72).epsilon(0.005));
}

TEST_CASE("aTimeAtTheLimitWithoutReadingsDecidesNothing") {
  Series celsius;
  for (double t = 0; t < 600; t += 1) {
    if (t >= 130 && t < 400) continue;  // a gap
    celsius.t.push_back(t);
    celsius.v.push_back(95);
  }
  SettlingQuestion question;
  question.temperature = celsius;
  question.load = {0, 600};
  question.trendS = trendLength(question.load);
  for (const TimeSpan& span : {TimeSpan{150, 380}, {380, 405}, {129, 390}}) {
    question.governed = span;
    const SettlingVerdict verdict = judgeSettling(question);
    CHECK(verdict.isGoverned);
    CHECK_FALSE(verdict.isSettled);
  }
  // What was asked before the gap's end is asked of what there was.
  question.governed = TimeSpan{120, 600};
  question.askedBeforeS = 140;
  CHECK(judgeSettling(question).forecast == Approx(95));
}

TEST_CASE("whatWillBeHeldIsSaidInWords") {
  CHECK(heldWords({{"cpu.power", 52.31, 51.9, 52.7, 1}, {"cpu.clock", 3412, 3404, 3420, 1}}) ==
        "3.41\u202FGHz at 52.3\u202FW");
  CHECK(heldWords({{"gpu.power", 85.362, 85.33, 85.39, 0}}) == "85.4\u202FW");
  CHECK(heldWords({{"gpu.power", 180.2, 175, 185, 1}}) == "180\u202FW");
  CHECK(heldWords({}).empty());
  CHECK(heldWords({{"cpu.power", kMissing, kMissing, kMissing, kMissing}}).empty());
}
