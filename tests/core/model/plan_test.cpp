// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of a study: what is kept of it, the order of its runs, the fields of its setups.
#include <catch2/catch.hpp>
#include <cmath>

#include "model/condition_field.h"
#include "model/run_order.h"
#include "model/study_plan.h"

using namespace ash;

namespace {

Study twoByTwo() {
  Study study;
  study.name = "s";
  study.setups = {{"A", Json::object(), {{"panel", "solid"}}, Json::object()},
                  {"B", Json::object(), {{"panel", "mesh"}}, Json::object()}};
  study.loads = {{"one", Json::object()}, {"two", Json::object()}};
  return study;
}

RunSummary run(const std::string& setup, const std::string& load, Outcome outcome = Outcome::Completed) {
  RunSummary summary;
  summary.info.study = "s";
  summary.info.setup = setup;
  summary.info.load = load;
  summary.info.outcome = outcome;
  return summary;
}

std::string words(const std::vector<PlannedRun>& runs) {
  std::string text;
  for (const PlannedRun& planned : runs)
    text += planned.setup + planned.load.substr(0, 1) + std::to_string(planned.repeat) + " ";
  return text;
}

std::string labels(const std::vector<CellPlace>& places) {
  std::string text;
  for (const CellPlace& place : places) text += place.label + (place.run ? "*" : "") + " ";
  return text;
}

}  // namespace

TEST_CASE("aPlanComesBackAsItWasKept") {
  StudyPlan plan;
  plan.held = {{"room_c", 22.0, 1.0}, {"paste", "0.12 g", kMissing}};
  plan.underTest = {"panel"};
  plan.figure = "cpu.temp";
  plan.marginK = 0.5;
  plan.repeats = 4;
  plan.byHand = {{"noise", "50 cm", OwedReading::When::AtEnd}};
  plan.reference = "B";
  plan.phases = "soak 5min";
  plan.stopRules = {"cpu.temp > 98 for 3s"};
  plan.bench = "larch12";
  plan.speed = 600;
  plan.writeUp.leftOut = {"method"};
  plan.writeUp.comments["result"] = "Well.";
  Json json = planToJson(plan);
  json["of a later version"] = {1, 2};
  const StudyPlan back = planFromJson(json);
  CHECK(planToJson(back) == json);
  CHECK(back.held[0].tolerance == 1.0);
  CHECK(std::isnan(back.held[1].tolerance));
  CHECK(back.byHand[0].when == OwedReading::When::AtEnd);
}

TEST_CASE("aPlanOfAnyShapeIsReadWithoutHarm") {
  CHECK(planFromJson(Json()).repeats == 3);
  CHECK(
      planFromJson({{"repeats", "many"}, {"held", 5}, {"by_hand", {1, 2}}, {"write_up", "x"}, {"speed", -4}}).repeats ==
      3);
  CHECK(planFromJson({{"repeats", 1000}}).repeats == 20);
  CHECK(planFromJson({{"repeats", 1e300}}).repeats == 20);
  CHECK(planFromJson({{"repeats", -1e300}}).repeats == 1);
  CHECK(planFromJson({{"speed", -4}}).speed == 1);
  CHECK_FALSE(planFromJson({{"margin_k", -1}}).marginK);
}

TEST_CASE("readingsByHandAreListedAsPeopleWriteThem") {
  const auto owed = parseOwedList("noise 50 cm, surface hinge, wall at rest, score at the end");
  REQUIRE(owed);
  REQUIRE(owed->size() == 4);
  CHECK((*owed)[0].place == "50 cm");
  CHECK((*owed)[1].role == "surface.hinge");
  CHECK((*owed)[2].role == "wall.power");
  CHECK((*owed)[2].when == OwedReading::When::AtRest);
  CHECK((*owed)[3].when == OwedReading::When::AtEnd);
  CHECK(owedListText(*owed) == "noise 50 cm, surface hinge, wall at rest, score at the end");
  CHECK(parseOwedList("")->empty());
  CHECK_FALSE(parseOwedList("loudness"));
  CHECK_FALSE(parseOwedList("surface"));
}

TEST_CASE("roundsGoThroughTheSetupsForwardsAndBackwards") {
  const Study study = twoByTwo();
  CHECK(words(runsToDo(study, 2, {})) == "Ao1 At1 Bo1 Bt1 Bo2 Bt2 Ao2 At2 ");
  // What is done falls out; a void run and one stopped by hand are done again, one that went down is a result.
  const std::vector<RunSummary> runs = {run("A", "one"), run("A", "two", Outcome::Void),
                                        run("B", "one", Outcome::MachineWentDown),
                                        run("B", "two", Outcome::StoppedByHand)};
  CHECK(words(runsToDo(study, 1, runs)) == "At1 Bt1 ");
  CHECK(runsToDo(study, 1, {run("A", "one"), run("A", "two"), run("B", "one"), run("B", "two")}).empty());
}

TEST_CASE("aVoidRunKeepsItsPlaceAndItsRepeatTakesANewOne") {
  using enum Outcome;
  CHECK(labels(cellPlaces({}, 3)) == "1 2 3 ");
  CHECK(labels(cellPlaces({Completed}, 3)) == "1* 2 3 ");
  // A log of another program is a run that was made.
  CHECK(labels(cellPlaces({TakenIn}, 3)) == "1* 2 3 ");
  CHECK(labels(cellPlaces({Void, Completed, Completed}, 3)) == "1* 2* 3* 1b ");
  CHECK(labels(cellPlaces({Void, Completed, Completed, Completed}, 3)) == "1* 2* 3* 1b* ");
  CHECK(labels(cellPlaces({Completed, MachineWentDown, Completed}, 3)) == "1* 2* 3* ");
}

TEST_CASE("theChangeByHandNamesWhatDiffers") {
  const Study study = twoByTwo();
  CHECK(changesByHand(nullptr, study.setups[0]) == std::vector<std::string>{"Panel: solid"});
  CHECK(changesByHand(&study.setups[0], study.setups[1]) == std::vector<std::string>{"Panel: mesh"});
  CHECK(changesByHand(&study.setups[1], study.setups[1]).empty());
  // What a run turns by itself is no change for a hand.
  Setup turned = study.setups[0];
  turned.name = "turned";
  turned.conditions["power_limit_w"] = 65;
  turned.conditions["cpu.clock.most"] = 3000;
  turned.conditions["knobs"] = {{"fan.rear.duty", 40}};
  CHECK(changesByHand(&study.setups[0], turned) == std::vector<std::string>{"Power limit: 65\u202FW"});
  CHECK(changesByHand(&study.setups[0], turned, true).empty());
  // What only a hand can turn is one, also where a pause asks for it.
  turned.conditions["core voltage, V"] = 1.1;
  CHECK(changesByHand(&study.setups[0], turned, true) == std::vector<std::string>{"Core voltage: 1.1\u202FV"});
  Setup own = study.setups[1];
  own.parts["by_hand"] = "fit the mesh panel";
  CHECK(changesByHand(&study.setups[0], own) == std::vector<std::string>{"fit the mesh panel"});
}

TEST_CASE("fieldsAreWrittenForPeopleAndReadBack") {
  CHECK(fieldTitle("power_limit_w") == "Power limit");
  CHECK(fieldTitle("fan_duty") == "Fan duty");
  CHECK(fieldText("power_limit_w", 88) == "88\u202FW");
  CHECK(fieldText("fan_duty", 55.5) == "55.5\u202F%");
  CHECK(fieldText("panel", "mesh") == "mesh");
  CHECK(fieldText("panel", Json()) == "–");
  CHECK(toleranceText("room_c", 22.0, 1) == "± 1\u202FK");
  CHECK(toleranceText("power_limit_w", 88, kMissing) == "exact");
  CHECK(toleranceText("paste", "0.12 g", kMissing) == "same");
  CHECK(parseFieldValue("power_limit_w", "65 W") == 65);
  CHECK(parseFieldValue("room_c", "22,5 °C") == 22.5);
  CHECK(parseFieldValue("panel", " mesh ") == "mesh");
  CHECK(parseFieldValue("panel", "  ").is_null());
  CHECK(fieldCode("Fan duty") == "fan_duty");
  CHECK(fieldCode("power_limit_w") == "power_limit_w");
}
