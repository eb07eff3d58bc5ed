// SPDX-License-Identifier: GPL-3.0-or-later
// Conditions that turn knobs, and the names of setups that differ in one.
#include "model/knob_condition.h"

#include <catch2/catch.hpp>

#include "model/active_parts.h"
#include "model/condition_field.h"
#include "model/setup_name.h"

using namespace ash;

TEST_CASE("conditionsThatNameAKnobAreFoundWithTheirValues") {
  const Json conditions = {{"fan_duty", 60},
                           {"power_limit_w", 65.5},
                           {"cpu.clock.most", 3000},
                           {"fan.rear.duty", "40"},
                           {"governor", "performance"},
                           {"firmware voltage, V", 1.2},
                           {"note, by hand", "none"},
                           {"knobs", {{"cpu.boost", false}, {"core voltage, V", 1.1}, {"cpu.governor", {1, 2}}}}};
  const auto all = knobConditions(conditions);
  std::vector<std::string> words;
  for (const KnobCondition& one : all)
    words.push_back(one.setting.knob + "=" + one.setting.value + (one.isStatedOnly ? " stated" : ""));
  CHECK(words == std::vector<std::string>{"cpu.power.limit=65.5 stated", "cpu.clock.most=3000", "fan.rear.duty=40",
                                          "firmware voltage, V=1.2", "cpu.boost=off", "core voltage, V=1.1"});
  CHECK(knobConditions(Json("text")).empty());
  CHECK(knobConditions(Json{{"power_limit_w", "65"}}).empty());
}

TEST_CASE("aKnobIsPutIntoConditionsWhereItIsTurned") {
  CHECK(withKnob(Json::object(), "cpu.power.limit", 65) == Json{{"power_limit_w", 65.0}});
  CHECK(withKnob({{"room_c", 22}}, "cpu.clock.most", 3000) == Json{{"room_c", 22}, {"cpu.clock.most", 3000.0}});
  CHECK(withKnob({{"knobs", {{"cpu.boost", "on"}, {"cpu.clock.most", 1}}}}, "cpu.clock.most", 3000) ==
        Json{{"knobs", {{"cpu.boost", "on"}, {"cpu.clock.most", 3000.0}}}});
  CHECK(withKnob(Json::object(), "core voltage, V", 1.1) == Json{{"core voltage, V", 1.1}});
  CHECK(withKnob({{"cpu.clock.most", 1}}, "cpu.clock.most", 3000) == Json{{"cpu.clock.most", 3000.0}});
  CHECK(withKnob({{"knobs", 5}}, "fan.rear.duty", 40) == Json{{"knobs", 5}, {"fan.rear.duty", 40.0}});
}

TEST_CASE("aKnobOfAMachineIsToldFromOneOfAPersonsOwn") {
  for (const char* id : {"cpu.power.limit", "cpu2.power.limit.short", "gpu.clock.most", "fan.rear-top.duty"})
    CHECK(isKnobId(id));
  for (const char* own : {"firmware voltage, V", "cpu", ".duty", "fan_duty", "Fan.rear.duty", "cpu.temp"})
    CHECK_FALSE(isKnobId(own));
  CHECK(turnByHandWords({"firmware voltage, V", "1.1"}) == "Set firmware voltage to 1.1 V");
  CHECK(turnByHandWords({"dial", "3"}) == "Set dial to 3");
}

TEST_CASE("aKnobIsWrittenForPeopleUnderItsOwnNameAndUnit") {
  CHECK(fieldTitle("cpu.clock.most") == "cpu.clock.most");
  CHECK(fieldText("cpu.clock.most", 3000) == "3000\u202FMHz");
  CHECK(fieldText("fan.rear.duty", 40) == "40\u202F%");
  CHECK(fieldTitle("core voltage, V") == "Core voltage");
  CHECK(fieldText("core voltage, V", 1.1) == "1.1\u202FV");
  // Typed on Plan they stay what they are, where another name becomes a code.
  CHECK(fieldCode(" cpu.clock.most ") == "cpu.clock.most");
  CHECK(fieldCode("core voltage, V") == "core voltage, V");
  CHECK(fieldCode("Panel, left") == "panel_left");
  CHECK(parseFieldValue("core voltage, V", "1,1 V") == Json(1.1));
}

TEST_CASE("conditionsThatTurnKnobsCountOnlyOnceTheyAreConfirmed") {
  Study study;
  study.setups = {{"a", Json::object(), {{"cpu.clock.most", 3000}, {"fan_duty", 60}, {"power_limit_w", 65}}}};
  const auto parts = activeParts(study);
  REQUIRE(parts.size() == 1);
  CHECK(parts[0].kind == ActiveKind::Knob);
  CHECK(detailLines(parts[0]) == std::vector<std::string>{"cpu.clock.most: 3000"});
}

TEST_CASE("theNameOfARungAndItsFamilyBelongTogether") {
  for (const auto& [unit, value] : {std::pair{"W", 65.0}, {"MHz", 3000.0}, {"%", 40.0}, {"V", 1.0625}, {"", 3.0}}) {
    INFO(unit);
    CHECK(familyName(rungName("Solid", value, unit)) == "Solid");
  }
  CHECK(rungName("Solid", 65, "W") == "Solid, 65 W");
  CHECK(familyName("Mesh + dust filter") == "Mesh + dust filter");
}
