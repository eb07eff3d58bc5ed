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

TEST_CASE("wrongPhasesAreRefusedWithTheirPartAndARemedy") {
  for (const char* text :
       {"", "warm 5min", "idle", "idle 5", "idle -5s", "idle 0s", "soak settled 5min", "soak settled 9min..8min",
        "measure below 40", "idle 5min,", "idle 1e400s", "idle nan", "soak settled ..5min"}) {
    INFO(text);
    const auto procedure = parsePhases(text);
    REQUIRE_FALSE(procedure);
    CHECK(procedure.error().message.find("soak settled 1min..5min") != std::string::npos);
  }
  CHECK(parsePhases("warm 5min").error().message ==
        "Phase \"warm 5min\": its kind must be idle, soak, measure or cool. Write phases like \"idle 20s, soak settled "
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
  CHECK(roundedText(-14.6, 0, true) == "-15");
}
