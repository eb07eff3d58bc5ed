// SPDX-License-Identifier: GPL-3.0-or-later
// The analysis held against many logs of another physics, whose truth is known.
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "tests/support/truth_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct Share {
  int right = 0, asked = 0;
  void add(bool isRight) {
    ++asked;
    right += isRight;
  }
  double percent() const { return 100.0 * right / std::max(1, asked); }
};

SettlingVerdict verdictOf(const TruthLog& made) {
  const Figures figures = analyzeRun(made.run);
  const ChannelFigures* temperature = figures.channel("cpu.temp");
  return temperature == nullptr || !temperature->settled ? SettlingVerdict() : *temperature->settled;
}

}  // namespace

TEST_CASE("logsOfAnotherPhysicsAreJudgedRightly") {
  for (const char* scenario :
       {"one stage", "two stages", "drifting room", "boost", "bursts", "no power logged", "uneven samples"}) {
    Share inside, settled, notSettled;
    for (unsigned seed = 1; seed <= 10; ++seed) {
      const TruthLog made = makeTruthLog(scenario, seed);
      const SettlingVerdict verdict = verdictOf(made);
      inside.add(verdict.forecastLow - 0.35 <= made.truth.finalC && made.truth.finalC <= verdict.forecastHigh + 0.35);
      const double left = std::max(std::abs(made.truth.remainingK), std::abs(made.truth.trendK));
      if (left < 0.2) settled.add(verdict.isSettled);
      if (left > 0.8) notSettled.add(!verdict.isSettled);
    }
    INFO(scenario << ": inside " << inside.right << "/" << inside.asked << ", settled " << settled.right << "/"
                  << settled.asked << ", not " << notSettled.right << "/" << notSettled.asked);
    CHECK(inside.percent() >= 90);
    CHECK(settled.percent() >= 80);
    CHECK(notSettled.percent() >= 95);
  }
}

TEST_CASE("whatChangesUnderLoadIsForecastFromThenOn") {
  for (const char* scenario : {"load lowered", "load raised", "fan failed", "fan came back"}) {
    Share inside, notSettled;
    for (unsigned seed = 1; seed <= 30; ++seed) {
      const TruthLog made = makeTruthLog(scenario, seed);
      const Figures figures = analyzeRun(made.run);
      const ChannelFigures& temperature = *figures.channel("cpu.temp");
      REQUIRE(temperature.settled);
      const SettlingVerdict& verdict = *temperature.settled;
      const double slack = 0.1 + temperature.step / 2;
      inside.add(verdict.forecastLow - slack <= made.truth.finalC && made.truth.finalC <= verdict.forecastHigh + slack);
      const double left = std::max(std::abs(made.truth.remainingK), std::abs(made.truth.trendK));
      if (left > 1.6 * std::max(0.5, temperature.step)) notSettled.add(!verdict.isSettled);
    }
    INFO(scenario << ": inside " << inside.right << "/" << inside.asked << ", not settled " << notSettled.right << "/"
                  << notSettled.asked);
    CHECK(inside.percent() >= 90);
    CHECK(notSettled.percent() >= 95);
  }
}

namespace {

constexpr double kLoadFromS = 100, kLoadToS = 1100;

/// 0.5 K/W in one stage of 100 s over a room of 22 °C; `wattsAt` of the load by the log's time.
template <typename F>
SettlingVerdict verdictOfLoad(F wattsAt) {
  RunLog run;
  Channel temperature, power, room;
  temperature.name = "cpu.temp";
  power.name = "cpu.power";
  room.name = "room.temp";
  double over = 5;
  for (int i = 0; i < kLoadToS; ++i) {
    const double watts = i < kLoadFromS ? 10 : wattsAt(i);
    run.log.timeS.push_back(i);
    temperature.values.push_back(22 + over + 0.1 * std::sin(12.9898 * i));
    power.values.push_back(watts);
    room.values.push_back(22);
    over += (0.5 * watts - over) * -std::expm1(-1.0 / 100);
  }
  for (Channel* channel : {&temperature, &power, &room}) {
    channel->role = channel->name;
    channel->quantity = channel->role.quantity();
    channel->unit = unitOf(channel->quantity);
    run.log.channels.push_back(*channel);
  }
  return verdictOf({run, {}});
}

}  // namespace

TEST_CASE("thePowerOfTheEndIsThatBehindItsLastStep") {
  // 72 °C at 100 W, 52 °C at 60 W, to which it was lowered 40 s before the load's end.
  const SettlingVerdict lowered = verdictOfLoad([](double t) { return t < 1060 ? 100 : 60; });
  CHECK(lowered.forecast == Approx(52).margin(0.5));
  CHECK(lowered.forecastHigh - lowered.forecastLow < 1);
  CHECK_FALSE(lowered.isSettled);
  // How a slow meter tells of a load's last seconds is no step.
  const SettlingVerdict ending = verdictOfLoad([](double t) { return t < 1095 ? 100 : 70; });
  CHECK(ending.forecast == Approx(72).margin(0.7));
}

TEST_CASE("aPlateauThatIsOnlyASlowSecondStageIsHardlyEverCalledSettled") {
  Share refused;
  for (unsigned seed = 1; seed <= 40; ++seed) {
    const TruthLog made = makeTruthLog("slow plateau", seed);
    if (made.truth.remainingK < 1) continue;
    refused.add(!verdictOf(made).isSettled);
  }
  INFO(refused.right << " of " << refused.asked);
  CHECK(refused.percent() >= 95);
}

TEST_CASE("whatIsHeldAtItsLimitIsForecastThere") {
  for (const char* scenario : {"pinned", "swinging"}) {
    Share right, power, settled, notSettled;
    for (unsigned seed = 1; seed <= 8; ++seed) {
      const TruthLog made = makeTruthLog(scenario, seed);
      const SettlingVerdict verdict = verdictOf(made);
      right.add(verdict.isGoverned && std::abs(verdict.forecast - made.truth.finalC) < 1.2);
      // Of what it delivers: where it will be held, and whether it is there.
      if (verdict.held.empty() || std::isnan(made.truth.heldW)) continue;
      power.add(std::abs(verdict.held.front().value / made.truth.heldW - 1) < 0.015);
      if (std::abs(made.truth.heldRemainingPercent) < 0.2) settled.add(verdict.isSettled);
      if (made.truth.heldRemainingPercent > 1) notSettled.add(!verdict.isSettled);
    }
    INFO(scenario << ": power " << power.right << "/" << power.asked << ", settled " << settled.right << "/"
                  << settled.asked << ", not " << notSettled.right << "/" << notSettled.asked);
    CHECK(right.percent() >= 90);
    CHECK((power.asked == 0 || power.percent() >= 85));
    CHECK((settled.asked == 0 || settled.percent() >= 75));
    CHECK((notSettled.asked == 0 || notSettled.percent() >= 90));
  }
}

TEST_CASE("loadIsFoundInLogsOfEveryKind") {
  for (const std::string& scenario : truthScenarios()) {
    Share right;
    for (unsigned seed = 1; seed <= 4; ++seed) {
      const TruthLog made = makeTruthLog(scenario, seed);
      const Figures figures = analyzeRun(made.run);
      // A gap may hide the very moment.
      const double slack = (scenario == "spoiled" ? 40 : 2) * figures.intervalS;
      const bool isRight = figures.load.has_value() == made.truth.hasLoad &&
                           (!figures.load || (std::abs(figures.load->startS - made.truth.loadStartS) <= slack &&
                                              std::abs(figures.load->endS - made.truth.loadEndS) <= slack));
      right.add(isRight);
    }
    INFO(scenario << ": " << right.right << " of " << right.asked);
    CHECK(right.right >= right.asked - 1);
  }
}
