// SPDX-License-Identifier: GPL-3.0-or-later
// Setups carried over to another room or power.
#include "report/answer/projected_setups.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

StudyReport twoCoolers() {
  StudyPlan plan;
  plan.reference = "Small";
  return madeStudy({{.setup = "Small", .overRoomK = 60, .repeats = 3}, {.setup = "Big", .overRoomK = 45, .repeats = 3}},
                   plan);
}

ProjectionQuestion inRoom(double roomC) {
  ProjectionQuestion question;
  question.roomC = roomC;
  return question;
}

}  // namespace

TEST_CASE("aWarmerRoomIsAddedToEachSetup") {
  const StudyReport report = twoCoolers();
  const ProjectedField field = projectedSetups(report, report.loads.front(), inRoom(30));
  const auto& all = field.setups;
  CHECK(field.leftOut == 0);
  REQUIRE(all.size() == 2);
  CHECK(all[0].setup == "Big");
  CHECK(all[0].runs == 3);
  CHECK(all[0].temperatureC.value == Approx(75).margin(0.5));
  CHECK(all[1].temperatureC.value == Approx(90).margin(0.5));
  CHECK(all[1].powerW == Approx(80).margin(0.5));
  CHECK(all[0].limitC == 95.0);
  CHECK(*all[0].throttleChance < 0.01);
  CHECK_FALSE(all[0].heldMhz);
}

TEST_CASE("beyondTheLimitItThrottlesAndHoldsLess") {
  const StudyReport report = twoCoolers();
  // Small would end at 105 °C in a room of 45 °C; at 95 °C it carries 80 W · 50 / 60, a governor holds up to 1.5 K
  // below.
  const auto all = projectedSetups(report, report.loads.front(), inRoom(45)).setups;
  CHECK(*all[1].throttleChance > 0.99);
  REQUIRE(all[1].heldPowerW);
  CHECK(all[1].heldPowerW->value == Approx(80 * 49.25 / 60).margin(2.5));
  CHECK(all[1].heldPowerW->low < all[1].heldPowerW->value);
  // Big ends at 90 °C.
  CHECK(*all[0].throttleChance < 0.2);
}

TEST_CASE("halfThePowerIsAboutHalfTheRise") {
  const StudyReport report = twoCoolers();
  ProjectionQuestion question;
  question.powerW = 40;
  const auto all = projectedSetups(report, report.loads.front(), question).setups;
  // What lies between: the resistance over all (30 K), and its growth from rest (8 K at 10 W).
  CHECK(all[1].temperatureC.value > 22 + 30 - 0.5);
  CHECK(all[1].temperatureC.value < 22 + 8 + 30 * 52.0 / 70 + 0.5 + 2.5);
  CHECK(all[1].powerW == 40);
}

TEST_CASE("ofALevelledFieldEachSettingIsProjectedByItself") {
  // Two rungs of one cooler: 30 K over room with a loud fan, 60 K with a quiet one.
  StudyPlan plan;
  plan.reference = "Small, fast";
  plan.underTest = {"fan_duty"};
  plan.equal = "noise";
  const auto rung = [](double duty) { return Json{{"cooler", "Small"}, {"fan_duty", duty}}; };
  const auto other = [](double duty) { return Json{{"cooler", "Big"}, {"fan_duty", duty}}; };
  const StudyReport report =
      madeStudy({{.setup = "Small, fast", .overRoomK = 40, .conditions = rung(80), .noiseDba = 40, .repeats = 2},
                 {.setup = "Small, slow", .overRoomK = 60, .conditions = rung(40), .noiseDba = 30, .repeats = 2},
                 {.setup = "Big, fast", .overRoomK = 35, .conditions = other(80), .noiseDba = 41, .repeats = 2},
                 {.setup = "Big, slow", .overRoomK = 52, .conditions = other(40), .noiseDba = 31, .repeats = 2}},
                plan);
  const auto all = projectedSetups(report, report.loads.front(), inRoom(30)).setups;
  REQUIRE(all.size() == 4);
  CHECK(all[0].setup == "Big, fast");
  CHECK(all[0].temperatureC.value == Approx(65).margin(0.5));
  CHECK(all[3].temperatureC.value == Approx(90).margin(0.5));
}

TEST_CASE("whoCannotBeProjectedIsCounted") {
  StudyPlan plan;
  plan.reference = "Small";
  StudyReport report = madeStudy({{.setup = "Small", .overRoomK = 60}, {.setup = "Big", .overRoomK = 45}}, plan);
  AnalyzedRun withoutPower = *report.runs[1];
  withoutPower.figures.heat.clear();
  report.runs[1] = std::make_shared<const AnalyzedRun>(withoutPower);
  const ProjectedField field = projectedSetups(report, report.loads.front(), inRoom(30));
  CHECK(field.setups.size() == 1);
  CHECK(field.leftOut == 1);
}

TEST_CASE("projectionsOfRunsAreTakenTogetherWithTheirScatter") {
  // Mean 61, each ± 2 by itself; standard error 1 by t of one degree of freedom: 12.706.
  const Estimate two = projectedTogether({{60, 58, 62}, {62, 60, 64}});
  CHECK(two.value == Approx(61));
  CHECK(two.high - two.value == Approx(std::hypot(2, 12.706)).margin(0.01));
  CHECK(two.value - two.low == Approx(std::hypot(2, 12.706)).margin(0.01));
  const Estimate one = projectedTogether({{60, 59, 63}});
  CHECK(one.low == Approx(59));
  CHECK(one.high == Approx(63));
  CHECK(std::isnan(projectedTogether({}).value));
}
