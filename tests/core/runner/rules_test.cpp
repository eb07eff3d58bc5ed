// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing that a person or a book says of a reading takes a stop rule away, no rule goes blind unnoticed, and none
// floods the book.
#include <catch2/catch.hpp>
#include <cmath>

#include "model/reading_choice.h"
#include "readings/gauges/gauge_source.h"
#include "readings/linux_machine.h"
#include "runner/event_folding.h"
#include "runner/stop_rule_watch.h"
#include "tests/support/fake_root.h"
#include "tests/support/recording.h"

using namespace ash;
using tests::TempFolder;

namespace {

// A processor whose chip tells 95 °C as its critical limit.
void processor(const TempFolder& folder) {
  folder.write("sys/class/hwmon/hwmon0/name", "coretemp\n");
  folder.write("sys/class/hwmon/hwmon0/temp1_label", "Package id 0\n");
  folder.write("sys/class/hwmon/hwmon0/temp1_input", "40000\n");
  folder.write("sys/class/hwmon/hwmon0/temp1_crit", "95000\n");
}

std::vector<SourceInfo> sourcesWith(const TempFolder& folder, const ReadingChoices& choices) {
  std::vector<SourceInfo> infos;
  for (const auto& source : openLinuxMachine(folder.path(), choices).sources) infos.push_back(source->info());
  return infos;
}

std::string idOfProcessor(const TempFolder& folder) {
  for (const SourceInfo& source : sourcesWith(folder, {})) {
    for (const Reading& reading : source.readings) {
      if (reading.role == "cpu.temp") return reading.id;
    }
  }
  FAIL("no processor temperature");
  return {};
}

/// The highest temperature that some default rule lets pass for the processor's chip; NaN when none watches it.
double guardedUpTo(const TempFolder& folder, const ReadingChoice& choice) {
  const std::string id = idOfProcessor(folder);
  const auto sources = sourcesWith(folder, {{id, choice}});
  double limit = kMissing;
  for (const SourceInfo& source : sources) {
    for (const Reading& reading : source.readings) {
      if (reading.id != id) continue;
      for (const StopRule& rule : defaultStopRules(sources, ""))
        if (rule.role == reading.column()) limit = std::fmin(limit, rule.threshold);
    }
  }
  return limit;
}

StopRule rule(const std::string& text) { return *parseStopRule(text); }

}  // namespace

TEST_CASE("whateverIsSaidOfAReadingItsOwnCriticalLimitStaysWatched") {
  const TempFolder folder;
  processor(folder);
  CHECK(guardedUpTo(folder, {}) == 95);
  ReadingChoice hidden, meaningless, room, raised, beyond, lowered;
  hidden.isHidden = true;
  meaningless.role = "";
  room.role = "room.temp";
  raised.limits = {{"critical", 500}};
  beyond.limits = {{"emergency", 500}};
  lowered.limits = {{"critical", 90}};
  CHECK(guardedUpTo(folder, hidden) == 95);
  CHECK(guardedUpTo(folder, meaningless) == 95);
  CHECK(guardedUpTo(folder, room) == 95);
  CHECK(guardedUpTo(folder, raised) == 95);
  CHECK(guardedUpTo(folder, beyond) == 95);
  CHECK(guardedUpTo(folder, lowered) == 90);
}

TEST_CASE("aRuleOnAReadingWithoutARoleNamesItAndItsUnit") {
  const TempFolder folder;
  processor(folder);
  ReadingChoice hidden;
  hidden.isHidden = true;
  const std::string id = idOfProcessor(folder);
  StopRuleWatch watch(defaultStopRules(sourcesWith(folder, {{id, hidden}}), ""), {});
  std::vector<RuleTrip> trips;
  for (double t = 0; t < 4 && trips.empty(); t += 0.5) trips = watch.take({t, {{id, 96.0}}, {}, true});
  REQUIRE(trips.size() == 1);
  CHECK(trips[0].sentence.find("Package id 0 (") == 0);
  CHECK(trips[0].sentence.find("was 96.0 °C for 2 s; the rule is 95 °C for 2 s.") != std::string::npos);
  // An impossible value of it is no reading, as for one with a role.
  StopRuleWatch again(defaultStopRules(sourcesWith(folder, {{id, hidden}}), ""), {});
  for (double t = 0; t < 4; t += 0.5) CHECK(again.take({t, {{id, 4000.0}}, {}, true}).empty());
}

TEST_CASE("everyReadingThatARuleWatchesIsMissedWhenItIsLost") {
  const auto lost =
      lostRules({rule("cpu.temp > 95 for 2s"), rule("lost cpu.temp for 10s"), rule("gpu.temp > 90 for 2s"),
                 rule("fan.cpu < 300 for 10s then warn"), rule("fan.cpu < 100 for 1s then stop load"),
                 rule("wrong result"), rule("throttled > 20% of 60s")});
  std::vector<std::string> texts;
  for (const StopRule& one : lost) texts.push_back(stopRuleText(one));
  CHECK(texts == std::vector<std::string>{"lost fan.cpu for 10s then stop load", "lost gpu.temp for 10s"});
}

TEST_CASE("aDeviceThatSleepsIsNotLost") {
  StopRuleWatch watch({rule("lost gpu.temp for 10s")}, {});
  const std::set<std::string> asleep = {"gpu.temp"};
  for (double t = 0; t < 60; t += 1) CHECK(watch.take({t, {{"gpu.temp", kMissing}}, asleep, true}).empty());
  // From the moment on in which it should have answered.
  double trippedS = kMissing;
  for (double t = 60; t < 90 && std::isnan(trippedS); t += 1)
    if (!watch.take({t, {{"gpu.temp", kMissing}}, {}, true}).empty()) trippedS = t;
  CHECK(trippedS == 70);
}

TEST_CASE("aSensorThatSleepsSaysSoInItsSweep") {
  const TempFolder folder;
  processor(folder);
  folder.write("dev/power/runtime_status", "active\n");
  GaugeSource source("chip");
  Reading reading;
  reading.id = "t";
  source.add(reading, std::make_unique<FileGauge>(folder.path("sys/class/hwmon/hwmon0/temp1_input"),
                                                  Quantity::Temperature, 1e3));
  source.setSleepFile(folder.path("dev/power/runtime_status"));
  CHECK_FALSE(source.sweep().isAsleep);
  folder.write("dev/power/runtime_status", "suspended\n");
  CHECK(source.sweep().isAsleep);
  CHECK(std::isnan(source.sweep().values.at(0)));
}

TEST_CASE("aFloodOfLikeEventsIsFoldedAndCounted") {
  EventFolding folding;
  std::vector<Event> kept;
  const auto tell = [&](double t, EventKind::Known kind, const std::string& text) {
    Event event;
    event.atS = t;
    event.kind = kind;
    event.text = text;
    if (const auto one = folding.take(event)) kept.push_back(*one);
  };
  // Sixteen a second for 750 s, each with other numbers.
  for (int i = 0; i < 12'000; ++i) tell(i * 0.0625, EventKind::Rule, "Fan was " + std::to_string(i) + " RPM for 0 s");
  // 20 at once, then one in ten seconds: from 11.1875 s to 741.1875 s 74 more, each with the 159 between.
  CHECK(kept.size() == 20 + 74);
  CHECK(kept.back().text == "Fan was 11859 RPM for 0 s (159 more like it since)");
  CHECK(kept.back().extra["folded"] == 159);
  // What a person says, passes and phases are kept whole, and another sentence is another kind.
  kept.clear();
  for (int i = 0; i < 100; ++i) tell(750, EventKind::Note, "coil whine");
  for (int i = 0; i < 100; ++i) tell(750, EventKind::Pass, "A pass ended.");
  tell(750, EventKind::Rule, "Power was 90 W for 0 s");
  CHECK(kept.size() == 201);
  // The 140 after the last that was kept are told at the end, by the last of them.
  const auto rest = folding.takeRest();
  REQUIRE(rest.size() == 1);
  CHECK(rest[0].text == "Fan was 11999 RPM for 0 s (139 more like it since)");
  CHECK(folding.takeRest().empty());
}

TEST_CASE("aRuleThatWarnsAtEverySampleLeavesAReadableBook") {
  const tests::Place place;
  tests::FakeBench bench;
  // Above and below at every other sample: the rule trips and is clear a thousand times.
  bench.temperature = [n = 0](double, bool) mutable { return ++n % 2 == 0 ? 80.0 : 60.0; };
  RunPlan plan = tests::plan(place, "soak 1000s");
  plan.rules = {rule("cpu.temp > 70 for 0s then warn")};
  int warned = 0;
  plan.onWarning = [&](const std::string&) { ++warned; };
  const RunResult result = tests::record(std::move(plan), bench);
  const RunLog run = tests::readBack(place, result.runId);
  const auto rules = std::count_if(run.facts.events.begin(), run.facts.events.end(),
                                   [](const Event& event) { return event.kind == EventKind::Rule; });
  CHECK(rules > 20);
  CHECK(rules < 140);
  CHECK(warned < 140);
  CHECK(result.problems.size() < 140);
  long long told = 0;
  for (const Event& event : run.facts.events) {
    if (event.kind == EventKind::Rule) told += 1 + valueIn(event.extra, "folded", 0LL);
  }
  CHECK(told == 1000);
}
