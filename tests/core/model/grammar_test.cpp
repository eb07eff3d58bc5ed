// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <cmath>

#include "model/number_text.h"
#include "model/procedure.h"
#include "model/stop_rule.h"
#include "model/text.h"

using namespace ash;

TEST_CASE("phasesOfTheContractAreRead") {
  const auto procedure = parsePhases("idle 5min, soak settled 8min..40min, measure 10min, cool below 45");
  REQUIRE(procedure);
  REQUIRE(procedure->phases.size() == 4);
  CHECK(std::get<EndsAfter>(procedure->phases[0].end).seconds == 300);
  CHECK(std::get<EndsWhenSettled>(procedure->phases[1].end).leastS == 480);
  CHECK(std::get<EndsWhenSettled>(procedure->phases[1].end).mostS == 2400);
  CHECK(std::get<EndsBelow>(procedure->phases[3].end).celsius == 45);
  CHECK(phasesText(*procedure) == "idle 5min, soak settled 8min..40min, measure 10min, cool below 45");
}

TEST_CASE("everyEndOfAPhaseIsReadAndWrittenBack") {
  for (const char* text :
       {"idle 5min, 3 x (soak settled 5min..30min, pause \"read the sound meter at 50 cm\" at most "
        "5min, measure 10min, "
        "cool below 40 ..20min)",
        "idle below 35 1min..2h, soak above 80, measure above 80.5 ..5min", "pass x12, pass 30min",
        "soak work 2500, measure work 0.5", "idle battery empty, measure battery 20%, soak battery 5.5% ..10h",
        "pause \"a \\\"lid\\\", closed (gently) \\\\\"",
        "2 x (idle 1s, 3 x (soak 2s, 2 x (measure 3s)), cool 4s), idle 5s",
        "set cpu.power.limit 65, soak 5min, set cpu.governor performance, set \"firmware voltage, "
        "V\" 1.05, measure 1min",
        "set a 1, 2 x (set b 2, 2 x (set c 3, idle 1s), idle 2s)", "1 x (idle 1s)"}) {
    INFO(text);
    const auto procedure = parsePhases(text);
    REQUIRE(procedure);
    CHECK(phasesText(*procedure) == text);
  }
  // Other ways to write the same.
  CHECK(phasesText(*parsePhases("2×( idle 60s ,cool below 40°C )")) == "2 x (idle 1min, cool below 40)");
  CHECK(phasesText(*parsePhases("cool below 40 0s..30min")) == "cool below 40");
}

TEST_CASE("groupsUnfoldIntoThePhasesThatRun") {
  const auto procedure = parsePhases("set a 1, 2 x (idle 1s, 3 x (set b 2, soak 2s)), pause \"look\", cool 4s");
  REQUIRE(procedure);
  std::string kinds;
  for (const Phase& phase : procedure->phases) kinds += phaseKindText(phase.kind).front();
  CHECK(kinds ==
        "isssisss"
        "pc");
  // Before the group once; within it each time.
  CHECK(procedure->phases[0].settings.size() == 1);
  CHECK(procedure->phases[4].settings.empty());
  for (const size_t i : {1, 2, 3, 5, 6, 7}) CHECK(procedure->phases[i].settings.at(0).knob == "b");
  // A pause has the load as it was.
  CHECK(isUnderLoad(*procedure, 8));
  CHECK_FALSE(isUnderLoad(*parsePhases("pause \"look\", soak 1s"), 0));
  CHECK(needsAPerson(*procedure));
  CHECK_FALSE(needsAPerson(*parsePhases("pause \"look\" at most 5s, soak 1s")));
  // 2 x (1 + 3 x 2) s, 3 min reckoned for the pause, 4 s.
  CHECK(reckonedS(*procedure) == 2 * (1 + 3 * 2) + 180 + 4);
}

TEST_CASE("phasesAreTakenTogetherAsTheyAreWritten") {
  const auto procedure = parsePhases("idle 1s, 2 x (soak 2s, 3 x (measure 3s), cool 4s), cool 5s");
  REQUIRE(procedure);
  CHECK(procedure->phases.size() == 1 + 2 * 5 + 1);
  std::string written;
  for (const WrittenPhase& one : asWritten(*procedure))
    written += std::to_string(one.times) + std::string(phaseKindText(procedure->phases[one.index].kind)) + " ";
  CHECK(written == "1idle 2soak 6measure 2cool 1cool ");
}

TEST_CASE("whatAProcedureUnfoldsToIsBounded") {
  CHECK(parsePhases("10000 x (idle 1s)")->phases.size() == 10'000);
  for (const char* text : {"10001 x (idle 1s)", "100 x (100 x (idle 1s, idle 1s))",
                           "99999 x (99999 x (99999 x (idle 1s)))", "9999 x (idle 1s), 2 x (idle 1s)"}) {
    INFO(text);
    const auto procedure = parsePhases(text);
    REQUIRE_FALSE(procedure);
    CHECK(procedure.error().message.find("more than 10000 phases") != std::string::npos);
  }
  std::string deep;
  for (int i = 0; i < 50'000; ++i) deep += "1x(";
  CHECK_FALSE(parsePhases(deep));
  deep = deep.substr(0, 3 * 1000) + "idle 1s" + std::string(1000, ')');
  CHECK(parsePhases(deep).error().message.find("too deep") != std::string::npos);
}

TEST_CASE("wrongPhasesAreRefusedWithTheirPartAndARemedy") {
  for (const char* text : {"",
                           "warm 5min",
                           "idle",
                           "idle 5",
                           "idle -5s",
                           "idle 0s",
                           "soak settled 5min",
                           "soak settled 9min..8min",
                           "measure below 40",
                           "idle 5min,",
                           "idle 1e400s",
                           "idle nan",
                           "soak settled ..5min",
                           "pause",
                           "pause look",
                           "pause \"\"",
                           "pause \"open",
                           "pause \"look\" 5min",
                           "pause \"look\" at most",
                           "pause \"two\nlines\"",
                           "soak x3",
                           "pass x0",
                           "pass x1.5",
                           "pass x1e9",
                           "idle work 3",
                           "soak work 0",
                           "cool battery empty",
                           "pass battery 20%",
                           "measure battery",
                           "measure battery 0%",
                           "measure battery 100%",
                           "measure battery low",
                           "measure battery 20% ..0s",
                           "measure battery 20% 1h",
                           "soak work",
                           "idle above 40",
                           "soak above",
                           "soak above 40 1min..2min",
                           "cool below ..5min",
                           "cool below 40 9min..5min",
                           "2 x (idle 1s",
                           "idle 1s)",
                           "2 x ()",
                           "0 x (idle 1s)",
                           "2 x idle 1s",
                           "(idle 1s)",
                           "2 x (idle 1s) soak 1s",
                           "set a 1",
                           "idle 1s, set a 1",
                           "set a, idle 1s",
                           "set a 1 2, idle 1s",
                           "set \"a 1, idle 1s"}) {
    INFO(text);
    const auto procedure = parsePhases(text);
    REQUIRE_FALSE(procedure);
    CHECK(procedure.error().message.find("soak settled 1min..5min") != std::string::npos);
  }
  CHECK(parsePhases("warm 5min").error().message ==
        "Phase \"warm 5min\": its kind must be idle, soak, measure, cool, pass or pause. Write phases like \"idle 20s, "
        "soak settled "
        "1min..5min, "
        "measure 1min, cool 30s\".");
}

TEST_CASE("stopRulesOfTheContractAreReadAndWrittenBack") {
  for (const char* text :
       {"cpu.temp > 98 for 3s", "fan.cpu < 300 for 10s", "throttled > 20% of 60s", "lost cpu.temp for 10s"}) {
    const auto rule = parseStopRule(text);
    INFO(text);
    REQUIRE(rule);
    CHECK(stopRuleText(*rule) == text);
  }
  CHECK(parseStopRule("throttled > 20% of 1min")->holdS == 60);
  CHECK(parseStopRule("  cpu.temp>98 for 500ms ")->holdS == 0.5);
}

TEST_CASE("wrongStopRulesAreRefused") {
  for (const char* text :
       {"", "cpu.temp", "cpu.temp > 98", "cpu.temp > hot for 3s", "nothing > 98 for 3s", "cpu.temp = 98 for 3s",
        "throttled > 120% of 60s", "throttled > 20 of 60s", "lost nobody for 3s", "cpu.temp > 98 for 3"}) {
    INFO(text);
    CHECK_FALSE(parseStopRule(text));
  }
}

TEST_CASE("durationsNeedAUnit") {
  CHECK(parseDurationS("1.5h") == 5400.0);
  CHECK(parseDurationS("250ms") == 0.25);
  CHECK_FALSE(parseDurationS("5"));
  CHECK_FALSE(parseDurationS("s"));
  CHECK_FALSE(parseDurationS("-1s"));
}

TEST_CASE("numbersAreWrittenForPeople") {
  CHECK(numberText(-3.25, 1) == "\u22123.2");
  CHECK(numberText(-0.04, 1) == "0.0");
  CHECK(numberText(std::nan(""), 1) == "–");
  CHECK(numberText(12345.6, 0) == "12\u202F346");
  CHECK(numberText(1234.5, 1) == "1234.5");
  CHECK(withUnit(81.26, 1, "°C") == "81.3\u202F°C");
  CHECK(signedText(2, 1) == "+2.0");
  CHECK(clockText(751) == "12:31");
  CHECK(clockText(3751) == "1:02:31");
  CHECK(clockText(-1) == "\u22120:01");
  CHECK(durationWords(60) == "1 min");
  CHECK(durationWords(90) == "90 s");
  CHECK(durationWords(4800) == "80 min");
  // Roughly: nothing takes no time, and nobody wants to know the seconds of an hour.
  CHECK(roughDurationWords(0.2) == "1 s");
  CHECK(roughDurationWords(39.6) == "40 s");
  CHECK(roughDurationWords(59.6) == "1 min");
  CHECK(roughDurationWords(89) == "1 min");
  CHECK(roughDurationWords(2570) == "43 min");
  CHECK(roughDurationWords(NAN) == "–");
}

TEST_CASE("aValueIsRoundedToWhatItsUncertaintyTells") {
  // JCGM 100:2008, 7.2.6: two significant digits of the uncertainty at most (one from 3 on), the value to the same
  // place.
  const struct {
    double value, uncertainty;
    const char* written;
  } kCases[] = {{0.6524, 0.0009, "0.6524"}, {386461, 22163, "386000"},   {81.327, 0.153, "81.33"},
                {81.327, 1.53, "81.3"},     {153497.95, 29.6, "153498"}, {12345, 150, "12350"},
                {0.98, 0, "1.0"},           {-0.0004, 0.13, "0.00"},     {99.96, 0.1, "99.96"},
                {-2.5049, 0.25, "-2.50"},   {3, std::nan(""), "3.0"}};
  for (const auto& one : kCases) {
    INFO(one.value << " within " << one.uncertainty);
    CHECK(roundedText(one.value, decimalsFor(one.uncertainty, 1)) == one.written);
  }
  CHECK(roundedText(0.004, 2, true) == "+0.00");
  CHECK(roundedText(-0.004, 2, true) == "+0.00");
  // Missing is missing.
  CHECK(roundedText(std::nan(""), 2, true) == "–");
  CHECK(roundedText(INFINITY, 0) == "–");
  CHECK(roundedText(-14.6, 0, true) == "-15");
}
