// SPDX-License-Identifier: GPL-3.0-or-later
// Settings changed under load, on logs whose readings are known by formula on both sides.
#include "analysis/run/setting_steps.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr double kLoadS = 60, kChangeS = 660, kEndS = 1260;

/// 65 W until 660 s, 45 W after it; the clock goes with the power, and the work with the clock.
LogMaker stepped(unsigned seed = 1) {
  LogMaker log(1320, 0.5);
  std::mt19937 random(seed);
  std::normal_distribution<double> normal;
  const auto level = [](double t, double idle, double before, double after) {
    return t < kLoadS || t >= kEndS ? idle : t < kChangeS ? before : after;
  };
  log.add("cpu.power", [&](double t) { return level(t, 8, 65, 45) + 0.5 * normal(random); });
  log.add("cpu.clock", [&](double t) { return level(t, 1200, 4400, 3800) + 8 * normal(random); });
  log.add("work.rate", [&](double t) { return level(t, 0, 100, 86) + 0.4 * normal(random); });
  log.add("cpu.power.limit", [&](double t) { return t < kChangeS ? 65.0 : 45.0; });
  // Two minutes of lag: the later half of each part is where it has come to rest.
  log.add("cpu.temp", [&](double t) {
    const double begun = 40 + 30 * (1 - std::exp(-(t - kLoadS) / 60));
    const double after = 60 + (begun - 60) * std::exp(-(t - kChangeS) / 60);
    return (t < kLoadS || t >= kEndS ? 40 : t < kChangeS ? begun : after) + 0.1 * normal(random);
  });
  log.phase(PhaseKind::Idle, 0, kLoadS).phase(PhaseKind::Soak, kLoadS, kEndS).phase(PhaseKind::Cool, kEndS, 1320);
  return log;
}

Event change(double atS, EventKind kind, const std::string& text, Json extra = Json::object()) {
  Event event;
  event.atS = atS;
  event.kind = kind;
  event.text = text;
  event.extra = std::move(extra);
  return event;
}

const SteppedReading* readingOf(const SettingStep& step, const std::string& role) {
  for (const SteppedReading& one : step.readings) {
    if (one.role == role) return &one;
  }
  return nullptr;
}

}  // namespace

TEST_CASE("aSettingChangedUnderLoadPartsTheFigures") {
  int within = 0;
  constexpr int kRounds = 40;
  for (unsigned seed = 1; seed <= kRounds; ++seed) {
    LogMaker log = stepped(seed);
    log.run.facts.events = {change(kChangeS, EventKind::Setting, "cpu.power.limit: 45 W.")};
    const auto steps = settingSteps(log.run, analyzeRun(log.run));
    REQUIRE(steps.size() == 1);
    CHECK(steps[0].atS == kChangeS);
    CHECK(steps[0].before.endS == kChangeS);
    CHECK(steps[0].after.startS == (kChangeS + kEndS) / 2);
    const SteppedReading* power = readingOf(steps[0], "cpu.power");
    REQUIRE(power != nullptr);
    CHECK(power->before == Approx(65).margin(0.1));
    CHECK(power->after == Approx(45).margin(0.1));
    within += power->low <= -20 && power->high >= -20;
    const SteppedReading* temperature = readingOf(steps[0], "cpu.temp");
    REQUIRE(temperature != nullptr);
    CHECK(temperature->difference == Approx(-10).margin(0.3));
    CHECK(readingOf(steps[0], "cpu.clock")->difference == Approx(-600).margin(2));
    CHECK(readingOf(steps[0], "work.rate")->difference == Approx(-14).margin(0.1));
    // What was changed is no consequence of it.
    CHECK(readingOf(steps[0], "cpu.power.limit") == nullptr);
  }
  // 95 % of 40 are 38; fewer than 34 come by chance once in some hundred.
  CHECK(within >= 34);
}

TEST_CASE("whatWasSetBeforeOrAtLoadStartPartsNothing") {
  LogMaker log = stepped();
  log.run.facts.events = {change(0, EventKind::Setting, "a"), change(kLoadS + 1, EventKind::Setting, "b"),
                          change(kEndS + 10, EventKind::Setting, "c"), change(kChangeS, EventKind::Note, "d"),
                          change(kChangeS, EventKind::Change, "a device came")};
  CHECK(settingSteps(log.run, analyzeRun(log.run)).empty());
}

TEST_CASE("changesThatBelongTogetherAreOneAndEachPartsWhatIsLeft") {
  LogMaker log = stepped();
  log.run.facts.events = {
      change(kChangeS + 1, EventKind::Setting, "fan.rear.duty: 40 %."),
      change(kChangeS, EventKind::Change, "The limit went from 65 W to 45 W.", {{"setting", "limit"}}),
      change(960, EventKind::Setting, "nothing much")};
  const auto steps = settingSteps(log.run, analyzeRun(log.run));
  REQUIRE(steps.size() == 2);
  CHECK(steps[0].text == "The limit went from 65 W to 45 W. fan.rear.duty: 40 %.");
  CHECK(steps[0].after.endS == 960);
  CHECK(steps[1].before.startS == (kChangeS + 960) / 2);
  // Nothing moved at the second one, and the interval says so.
  const SteppedReading* power = readingOf(steps[1], "cpu.power");
  REQUIRE(power != nullptr);
  CHECK(std::abs(power->difference) < 0.2);
  CHECK(power->high - power->low < 0.5);
  // A part that is too short has no figures.
  log.run.facts.events.push_back(change(962.5, EventKind::Setting, "at once"));
  log.run.facts.events.push_back(change(965, EventKind::Setting, "and again"));
  for (const SettingStep& step : settingSteps(log.run, analyzeRun(log.run))) {
    for (const SteppedReading& one : step.readings) CHECK(std::isfinite(one.difference));
  }
}
