// SPDX-License-Identifier: GPL-3.0-or-later
// Ready questions: each becomes a ladder that can be climbed, on knobs whose ranges are known.
#include "ladder/questions.h"

#include <catch2/catch.hpp>

using namespace ash;

namespace {

Knob knobOf(const std::string& id, const std::string& unit, double byDefault, double least, double most) {
  Knob knob;
  knob.id = id;
  knob.unit = unit;
  knob.value = knob.byDefault = byDefault;
  knob.least = least;
  knob.most = most;
  return knob;
}

std::vector<Knob> aMachinesKnobs() {
  return {knobOf("cpu.power.limit", "W", 88, 3, 120), knobOf("cpu.clock.most", "MHz", 5100, 1200, 5100),
          knobOf("fan.rear.duty", "%", 60, 0, 100)};
}

LadderAsk askedOf(const std::string& question, std::optional<double> wanted = {}) {
  LadderAsk ask;
  ask.rest = {PhaseKind::Idle, EndsAfter{60}};
  const Status filled = fillIn(*findQuestion(question), aMachinesKnobs(), wanted, ask);
  if (!filled) FAIL(filled.error().message);
  return ask;
}

}  // namespace

TEST_CASE("everyReadyQuestionIsALadderThatCanBeClimbed") {
  REQUIRE(ladderQuestions().size() >= 6);
  for (const LadderQuestion& question : ladderQuestions()) {
    INFO(question.id);
    const LadderAsk ask = askedOf(std::string(question.id));
    CHECK(checkAsk(ask));
    CHECK((ask.to < ask.from) == question.goesDown);
    CHECK(ask.stepCount() >= 5);
    CHECK(ask.stepCount() <= 25);
    // Its last step is where it says that it goes.
    CHECK(ask.valueAt(ask.stepCount() - 1) == ask.to);
    CHECK(question.wanted.empty() == (question.rule.find("{}") == std::string_view::npos));
  }
  CHECK(findQuestion("nonsense") == nullptr);
}

TEST_CASE("aQuestionTakesItsRangeFromTheKnobAndItsRuleFromWhatIsWanted") {
  // Half of 88 W is 44; 76 W in about a dozen steps are tens.
  const LadderAsk power = askedOf("highest-power");
  CHECK(power.knob == "cpu.power.limit");
  CHECK(power.from == 50);
  CHECK(power.to == 120);
  CHECK(power.step == 10);
  CHECK(power.unit == "W");
  const LadderAsk fan = askedOf("quiet", 34.5);
  CHECK(fan.knob == "fan.rear.duty");
  CHECK(fan.from == 20);
  CHECK(fan.to == 100);
  CHECK(ladderRuleText(fan.until.front()) == "noise > 34.5 for 10s");
  CHECK(ladderRuleText(askedOf("least-power").until.front()) == "work.rate < 98% of first");
  CHECK(ladderRuleText(askedOf("wall-power", 90).until.front()) == "wall.power > 90 for 10s");
  CHECK(askedOf("lowest-voltage").unit == "V");
}

TEST_CASE("aQuestionWithoutItsKnobSaysSo") {
  LadderAsk ask;
  const Status none = fillIn(*findQuestion("lowest-fan"), {}, {}, ask);
  REQUIRE_FALSE(none);
  CHECK(none.error().message.find("needs a knob") != std::string::npos);
  auto knobs = aMachinesKnobs();
  knobs[0].whyNot = "Only root may write it.";
  const Status noRight = fillIn(*findQuestion("highest-power"), knobs, {}, ask);
  REQUIRE_FALSE(noRight);
  CHECK(noRight.error().message == "Only root may write it.");
}
