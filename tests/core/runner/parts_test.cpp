// SPDX-License-Identifier: GPL-3.0-or-later
// Stop rules and phases, fed by hand.
#include <catch2/catch.hpp>

#include "runner/phase_machine.h"
#include "runner/stop_rule_watch.h"

using namespace ash;

namespace {

StopRuleWatch watchFor(const std::string& rule, std::optional<double> limit = {}) {
  return StopRuleWatch({*parseStopRule(rule)}, limit);
}

// The sentence of the first rule that trips in this moment.
std::optional<std::string> said(StopRuleWatch& watch, double timeS, const RoleValues& values, bool isUnderLoad) {
  const auto trips = watch.take({timeS, values, {}, isUnderLoad});
  return trips.empty() ? std::nullopt : std::optional(trips.front().sentence);
}

// Feeds a value every half second and returns when the rule trips; -1 = never.
template <typename F>
double tripsAt(StopRuleWatch watch, const std::string& role, F value, double untilS = 60, bool isUnderLoad = true) {
  for (double t = 0; t <= untilS; t += 0.5) {
    if (said(watch, t, {{role, value(t)}}, isUnderLoad)) return t;
  }
  return -1;
}

PhaseMachine::Moment at(double t) {
  PhaseMachine::Moment moment;
  moment.timeS = t;
  return moment;
}

}  // namespace

TEST_CASE("aRuleTripsWhenItsConditionHasHeldForItsTime") {
  CHECK(tripsAt(watchFor("cpu.temp > 98 for 3s"), "cpu.temp", [](double t) { return t < 10 ? 90.0 : 99.0; }) == 13);
  // Equal is not above; one good reading starts the time anew.
  CHECK(tripsAt(watchFor("cpu.temp > 98 for 3s"), "cpu.temp", [](double) { return 98.0; }) == -1);
  CHECK(tripsAt(watchFor("cpu.temp > 98 for 3s"), "cpu.temp", [](double t) {
          return t == 12 ? 97.0 : t < 10 ? 90.0 : 99.0;
        }) == 15.5);
  CHECK(tripsAt(watchFor("cpu.temp > 98 for 0s"), "cpu.temp", [](double t) { return t < 10 ? 90.0 : 99.0; }) == 10);
}

TEST_CASE("aRunDownEndsWhenItsChargeHasHeldOrAtItsMost") {
  PhaseMachine phases(*parsePhases("measure battery 20% ..100s, measure battery empty ..50s"), 1);
  const auto charged = [&](double t, double percent) {
    PhaseMachine::Moment moment = at(t);
    moment.chargePercent = percent;
    return phases.take(moment);
  };
  CHECK_FALSE(charged(0, 21));
  // A gauge that is wrong for a moment, or says nothing, ends nothing.
  CHECK_FALSE(charged(1, 0));
  CHECK_FALSE(charged(2, 20.5));
  CHECK_FALSE(charged(3, 20));
  CHECK_FALSE(charged(4, kMissing));
  CHECK_FALSE(charged(5, 20));
  CHECK_FALSE(charged(6, 20));
  CHECK_FALSE(charged(7, 19));
  CHECK(charged(8, 19));
  CHECK(phases.lastEnd() == "the battery is run down");
  for (double t = 9; t < 58; ++t) CHECK_FALSE(charged(t, 1));
  CHECK(charged(58, 1));
  CHECK(phases.lastEnd() == "its most time was up");
}

TEST_CASE("aMissingReadingIsNeitherAboveNorBelow") {
  CHECK(tripsAt(watchFor("cpu.temp > 98 for 3s"), "cpu.temp", [](double) { return kMissing; }) == -1);
  CHECK(tripsAt(watchFor("fan.cpu < 300 for 3s"), "fan.cpu", [](double) { return kMissing; }) == -1);
}

TEST_CASE("aLostReadingTripsUnderLoadOnly") {
  const auto lost = [](double t) { return t < 5 ? 60.0 : kMissing; };
  CHECK(tripsAt(watchFor("lost cpu.temp for 10s"), "cpu.temp", lost) == 15);
  CHECK(tripsAt(watchFor("lost cpu.temp for 10s"), "cpu.temp", lost, 60, false) == -1);
  StopRuleWatch never = watchFor("lost gpu.temp for 2s");
  std::optional<std::string> sentence;
  for (double t = 0; t < 5 && !sentence; t += 0.5) sentence = said(never, t, {{"cpu.temp", 50}}, true);
  CHECK(sentence.value() == "Graphics temperature gave no reading for 2 s.");
}

TEST_CASE("aStandingFanAtRestIsNoDanger") {
  CHECK(tripsAt(
            watchFor("fan.cpu < 300 for 3s"), "fan.cpu", [](double) { return 0.0; }, 60, false) == -1);
  CHECK(tripsAt(watchFor("fan.cpu < 300 for 3s"), "fan.cpu", [](double) { return 0.0; }) == 3);
}

TEST_CASE("theThrottledShareLooksAtItsWindow") {
  StopRuleWatch watch = watchFor("throttled > 20% of 20s", 95.0);
  double trippedAt = -1;
  for (double t = 0; t <= 120 && trippedAt < 0; t += 0.5) {
    const bool isHeld = t >= 60;
    if (said(watch, t, {{"cpu.clock", isHeld ? 4000.0 : 4500.0}, {"cpu.temp", isHeld ? 94.5 : 80.0}}, true))
      trippedAt = t;
  }
  // More than a fifth of 20 s is reached with the reading after 4 s.
  CHECK(trippedAt == Approx(64).margin(0.5));
  // The same loss of clock while cool is not heat.
  StopRuleWatch cool = watchFor("throttled > 20% of 20s", 95.0);
  for (double t = 0; t <= 120; t += 0.5)
    CHECK_FALSE(said(cool, t, {{"cpu.clock", t < 60 ? 4500.0 : 4000.0}, {"cpu.temp", 80}}, true));
}

TEST_CASE("theSentenceSaysWhatWasAndWhatTheRuleIs") {
  StopRuleWatch watch = watchFor("board.temp.vrm > 102 for 10s");
  std::optional<std::string> sentence;
  for (double t = 0; t <= 20 && !sentence; t += 0.5) sentence = said(watch, t, {{"board.temp.vrm", 102.4}}, true);
  CHECK(sentence.value() == "Power delivery (VRM) temperature was 102.4 °C for 10 s; the rule is 102 °C for 10 s.");
  CHECK(watch.states()[0].hasTripped);
  CHECK(watch.states()[0].distance() == Approx(-0.4));
}

TEST_CASE("defaultRulesComeFromTheDevicesOwnLimits") {
  Reading cpu;
  cpu.role = "cpu.temp";
  cpu.limits = {{"throttle", 95}, {"critical", 105}};
  Reading room;
  room.role = "room.temp";
  room.limits = {{"critical", 60}};
  Reading drive;
  drive.role = "storage.temp";
  const auto rules = defaultStopRules({{"a", {cpu, room, drive}}}, "cpu.temp");
  REQUIRE(rules.size() == 2);
  CHECK(stopRuleText(rules[0]) == "cpu.temp > 105 for 2s");
  CHECK(stopRuleText(rules[1]) == "lost cpu.temp for 10s");
  CHECK(defaultStopRules({{"a", {drive}}}, "").empty());
}

TEST_CASE("aTimedPhaseHoldsItsSamples") {
  PhaseMachine phases(*parsePhases("idle 2s, measure 1s"), 0.5);
  int idle = 0;
  double t = 0;
  for (; !phases.take(at(t)); t += 0.5) ++idle;
  CHECK(idle + 1 == 4);  // 0, 0.5, 1, 1.5
  CHECK(phases.lastEnd() == "its time was up");
  CHECK_FALSE(phases.take(at(2.0)));
  CHECK(phases.startS() == 2);
  CHECK(phases.take(at(2.5)));
  CHECK(phases.isFinished());
}

TEST_CASE("settledEndsBetweenItsLeastAndItsMost") {
  const auto endsAt = [](double settledFromS, bool canSettle) {
    PhaseMachine phases(*parsePhases("soak settled 10s..60s, cool 5s"), 1);
    for (double t = 0; t < 100; t += 1) {
      auto moment = at(t);
      moment.hasSettled = t >= settledFromS;
      moment.canSettle = canSettle;
      if (phases.take(moment)) return std::make_pair(t + 1, phases.lastEnd());
    }
    return std::make_pair(-1.0, std::string());
  };
  CHECK(endsAt(3, true) == std::make_pair(10.0, std::string("settled")));
  CHECK(endsAt(30, true) == std::make_pair(31.0, std::string("settled")));
  CHECK(endsAt(1000, true) == std::make_pair(60.0, std::string("its most time was up")));
  CHECK(endsAt(1000, false).first == 10.0);
}

TEST_CASE("recoverEndsBelowItsTemperatureOrAfterHalfAnHour") {
  PhaseMachine phases(*parsePhases("cool below 45"), 1);
  auto moment = at(0);
  moment.watchedC = 50;
  CHECK_FALSE(phases.take(moment));
  moment.watchedC = kMissing;
  CHECK_FALSE(phases.take(moment));
  moment.watchedC = 44.9;
  CHECK(phases.take(moment));
  PhaseMachine stuck(*parsePhases("cool below 45"), 1);
  double t = 0;
  for (moment.watchedC = 50;; t += 1) {
    moment.timeS = t;
    if (stuck.take(moment)) break;
  }
  CHECK(t == kLongestRecoverS - 1);
}

TEST_CASE("aPhaseMayBeEndedAndExtendedByHand") {
  PhaseMachine phases(*parsePhases("idle 10s, measure 10s"), 1);
  phases.take(at(0));
  phases.extend(5);
  CHECK(phases.longestLeftS(0) == 15);
  CHECK(phases.longestRunLeftS(0) == 25);
  CHECK_FALSE(phases.take(at(9)));
  phases.endPhaseNow();
  CHECK(phases.take(at(10)));
  CHECK(phases.lastEnd() == "ended by hand");
  CHECK(phases.longestLeftS(11) == 10);  // the extension belonged to the first phase
}
