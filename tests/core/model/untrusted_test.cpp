// SPDX-License-Identifier: GPL-3.0-or-later
// Texts and JSON from elsewhere, and what a book would do on a machine.
#include <catch2/catch.hpp>

#include "model/active_parts.h"
#include "model/json.h"
#include "model/procedure.h"
#include "model/stop_rule.h"
#include "model/text.h"

using namespace ash;

TEST_CASE("valuesOfTheWrongKindAreAsIfTheyWereMissing") {
  const Json object =
      parseObject(R"({"n": 5, "big": 1e300, "neg": -1, "text": "x", "yes": true, "list": [1], "half": 2.5})");
  CHECK(valueIn(object, "n", 0) == 5);
  CHECK(valueIn(object, "n", 0.0) == 5.0);
  CHECK(valueIn(object, "n", "none") == "none");
  CHECK(valueIn(object, "big", 7) == 7);  // no integer at all
  CHECK(valueIn(object, "half", 7) == 7);
  CHECK(valueIn(object, "neg", 3u) == 3u);  // out of range
  CHECK(valueIn(object, "text", 4) == 4);
  CHECK(valueIn(object, "yes", false));
  CHECK_FALSE(valueIn(object, "n", false));
  CHECK(valueIn(object, "list", Json()).size() == 1);
  CHECK(valueIn(object, "nothing", "there") == "there");
  CHECK(valueIn(Json::array({1, 2}), "n", 9) == 9);
  CHECK(valueIn(Json(), "n", 9) == 9);
  CHECK(valueIn(parseObject(R"({"n": 300})"), "n", static_cast<signed char>(1)) == 1);
}

TEST_CASE("deepAndBrokenJsonIsTamed") {
  CHECK(parseObject("[1, 2]").empty());
  CHECK(parseQuietly("{\"a\": ").is_discarded());
  CHECK_THROWS_AS(parseObject("{"), Json::exception);
  std::string deep = R"({"kept": 1, "deep": )";
  for (int i = 0; i < 100'000; ++i) deep += '[';
  for (int i = 0; i < 100'000; ++i) deep += ']';
  const Json tamed = parseQuietly(deep + "}");
  REQUIRE(tamed.is_object());
  CHECK(tamed["kept"] == 1);
  CHECK(tamed.dump().size() < 400);
}

TEST_CASE("textsLoseEscapesAndBrokenBytes") {
  CHECK(withoutControls("a\x1b[31mb\x07\n") == "a [31mb  ");
  CHECK(withoutControls("10\u00A0°C \u2013 µ") == "10\u00A0°C \u2013 µ");
  CHECK(withoutControls("a\xC2\x9B"
                        "b") == "a  b");  // CSI as one character, U+009B
  CHECK(asUtf8("85 °C") == "85 °C");
  CHECK(asUtf8("a\xFF"
               "b") == "a\uFFFDb");
  CHECK(asUtf8("\xC0\xAF") == "\uFFFD\uFFFD");            // an overlong slash
  CHECK(asUtf8("\xED\xA0\x80") == "\uFFFD\uFFFD\uFFFD");  // half of a surrogate pair
  CHECK(asUtf8("\xF0\x9F\x94\xA5") == "\U0001F525");
  CHECK(asUtf8("\xF4\x90\x80\x80").find("\uFFFD") == 0);  // beyond U+10FFFF
  CHECK(asUtf8("\xE2\x82") == "\uFFFD\uFFFD");            // cut off
}

TEST_CASE("onlyPlainIdsBecomePartsOfAPath") {
  for (const char* good : {"r7k2m9q4x", "panel-01", "a_b", "X"}) CHECK(isPlainId(good));
  for (const char* bad : {"", ".", "..", "a/b", "../x", "a b", "a.sock", "ä", "a\n"}) {
    INFO(bad);
    CHECK_FALSE(isPlainId(bad));
  }
  CHECK_FALSE(isPlainId(std::string(65, 'a')));
}

TEST_CASE("commandsAddressesAndKnobsAreFoundWhereverTheyStand") {
  Study study;
  study.plan = parseObject(R"({"sources": [{"role": "wall.power", "address": "10.0.0.7:5025"}], "phases": "idle 1s"})");
  study.setups = {{"mesh", Json::object(), parseObject(R"({"fan_duty": 60, "knobs": {"pwm1": 128}})")},
                  {"solid", Json::object(), Json::object()}};
  study.loads = {{"render", parseObject(R"({"kind": "command", "command": ["render", "-t", "8"]})")},
                 {"vector", parseObject(R"({"kind": "vector", "command": ""})")}};
  const auto all = activeParts(study);
  REQUIRE(all.size() == 3);
  // All that stands around an address decides what is asked; a setup's other conditions do not.
  CHECK(all[0] == ActivePart{"plan", ActiveKind::Address, "10.0.0.7:5025", study.plan["sources"][0]});
  CHECK(all[1] == ActivePart{"setup mesh", ActiveKind::Knob, R"({"pwm1":128})", {{"knobs", {{"pwm1", 128}}}}});
  CHECK(all[2] == ActivePart{"load render", ActiveKind::Command, R"(["render","-t","8"])", study.loads[0].spec});
  // A cell uses its own parts and those of the plan.
  CHECK(activeParts(study, "solid", "vector").size() == 1);
  CHECK(activeParts(study, "mesh", "render").size() == 3);
  CHECK(activeParts(study, "elsewhere", "nothing").size() == 1);
}

TEST_CASE("whatIsConfirmedIsAllThatDecidesWhatRuns") {
  const auto text = [](const char* spec) {
    return canonicalText(activeParts(Load{"render", parseObject(spec), 0}).at(0));
  };
  const std::string once = text(R"({"kind": "command", "command": "./render", "folder": "/opt"})");
  CHECK(text(R"({"folder": "/opt", "command": "./render", "kind": "command"})") == once);
  for (const char* other :
       {R"({"kind": "command", "command": "./render", "folder": "/tmp"})",
        R"({"kind": "command", "command": "./render", "folder": "/opt", "repeats": 2})",
        R"({"kind": "command", "command": "./render", "folder": "/opt", "environment": {"PATH": "."}})",
        R"({"kind": "command", "command": "./render", "folder": "/opt", "scores": {"s": "x"}})",
        R"({"kind": "command", "command": "./render ", "folder": "/opt"})",
        R"({"kind": "vector", "also": [{"kind": "command", "command": "./render", "folder": "/opt"}]})"}) {
    INFO(other);
    CHECK(text(other) != once);
  }
}

TEST_CASE("allOfAPartIsShownAndNothingHides") {
  const auto lines = detailLines(
      activeParts(
          Load{
              "render",
              parseObject(
                  R"({"command": "echo hi\nrm x", "environment": {"PATH": "/opt/\u202efdp"}, "also": [{"kind": "memory"}]})"),
              0})
          .at(0));
  CHECK(lines == std::vector<std::string>{R"(command: "echo hi\nrm x")", R"(environment.PATH: "/opt/\u202efdp")",
                                          "also.1.kind: memory"});
}

TEST_CASE("aBenchThatIsAFileHasToBeConfirmedAndOneThatShipsNot") {
  Study study;
  study.plan = {{"bench", "larch12"}};
  CHECK(activeParts(study).empty());
  for (const char* file : {"/dev/zero", "bench.json", "../x"}) {
    study.plan["bench"] = file;
    REQUIRE(activeParts(study).size() == 1);
    CHECK(activeParts(study)[0].kind == ActiveKind::Bench);
  }
}

TEST_CASE("rulesWithTheirActionsAreReadAndWritten") {
  using Kind = StopRule::Kind;
  using Action = StopRule::Action;
  const auto rule = parseStopRule("fan.cpu < 300 for 10s then warn");
  REQUIRE(rule);
  CHECK(rule->kind == Kind::Below);
  CHECK(rule->action == Action::Warn);
  CHECK(parseStopRule("cpu.temp > 98 for 3s")->action == Action::StopRun);
  CHECK(parseStopRule("cpu.temp > 98 for 3s then stop load")->action == Action::StopLoad);
  CHECK(parseStopRule("wrong result then note")->kind == Kind::WrongResult);
  CHECK(parseStopRule("disk < 1.5GB")->threshold == 1.5e9);
  for (const char* text :
       {"cpu.temp > 98.5 for 3s", "fan.cpu < 300 for 10s then warn", "throttled > 20% of 60s then note",
        "lost cpu.temp for 10s then stop load", "wrong result", "disk < 50MB then warn"}) {
    INFO(text);
    REQUIRE(parseStopRule(text));
    CHECK(stopRuleText(*parseStopRule(text)) == text);
  }
  for (const char* text : {"cpu.temp > 98 for 3s then dance", "then note", "disk < 50", "disk > 5MB", "disk < 0MB",
                           "wrong result for 3s", "cpu.temp > 98 for 25h", "cpu.temp > 98 for 3s then", "disk"}) {
    INFO(text);
    CHECK_FALSE(parseStopRule(text));
  }
}

TEST_CASE("timesOfPhasesSurviveBeingWritten") {
  for (const char* text :
       {"idle 60.5s", "soak 90.125s", "soak settled 1.5h..2h", "cool below 44.25", "idle 250ms, measure 1h"}) {
    INFO(text);
    const auto once = parsePhases(text);
    REQUIRE(once);
    const auto twice = parsePhases(phasesText(*once));
    REQUIRE(twice);
    CHECK(phasesText(*twice) == phasesText(*once));
    CHECK(longestPhaseS(twice->phases[0]) == longestPhaseS(once->phases[0]));
  }
  CHECK_FALSE(parsePhases("soak 2000h"));
  CHECK_FALSE(parsePhases("cool below 9999"));
}
