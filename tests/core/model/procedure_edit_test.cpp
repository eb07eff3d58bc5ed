// SPDX-License-Identifier: GPL-3.0-or-later
// Single steps changed: the text after it is written by hand here.
#include "model/procedure_edit.h"

#include <catch2/catch.hpp>

using namespace ash;

namespace {

std::string textOr(const Result<Procedure>& result) {
  return result ? phasesText(*result) : "refused: " + result.error().message;
}

std::string textOr(const Result<MovedStep>& result) {
  return result ? phasesText(result->procedure) : "refused: " + result.error().message;
}

const char kNested[] =
    "idle 1min, set cpu.boost off, 2 x (soak 5min, 3 x (measure 1min, pause \"look, (twice)\")), cool 2min";

}  // namespace

TEST_CASE("aStepIsTakenOutOfAllItsTimes") {
  const Procedure nested = *parsePhases(kNested);
  CHECK(textOr(withoutStep(nested, 0)) ==
        "set cpu.boost off, 2 x (soak 5min, 3 x (measure 1min, pause \"look, (twice)\")), cool 2min");
  CHECK(textOr(withoutStep(nested, 2)) ==
        "idle 1min, set cpu.boost off, 2 x (soak 5min, 3 x (pause \"look, (twice)\")), cool 2min");
  CHECK(textOr(withoutStep(*parsePhases("idle 1min, 3 x (soak 5min), cool 1min"), 1)) == "idle 1min, cool 1min");
  CHECK(textOr(withoutStep(*parsePhases("idle 1min"), 0)) == "refused: A procedure has at least one step.");
  CHECK(textOr(withoutStep(nested, 5)) == "refused: There is no such step.");
}

TEST_CASE("aStepIsMovedAmongThoseBesideIt") {
  const Procedure nested = *parsePhases(kNested);
  CHECK(textOr(withStepMoved(nested, 4, false)) ==
        "idle 1min, cool 2min, set cpu.boost off, 2 x (soak 5min, 3 x (measure 1min, pause \"look, (twice)\"))");
  CHECK(textOr(withStepMoved(nested, 2, true)) ==
        "idle 1min, set cpu.boost off, 2 x (soak 5min, 3 x (pause \"look, (twice)\", measure 1min)), cool 2min");
  // It is told where it stands then: past a group it is past all steps of that.
  CHECK(withStepMoved(nested, 4, false)->step == 1);
  CHECK(withStepMoved(nested, 0, true)->step == 3);
  CHECK(withStepMoved(nested, 1, true)->step == 3);
  CHECK(withStepMoved(nested, 2, true)->step == 3);
  CHECK(withStepMoved(nested, 3, true)->step == 3);
  // At an end of its list it stays.
  CHECK(textOr(withStepMoved(nested, 0, false)) == kNested);
  CHECK(textOr(withStepMoved(nested, 3, true)) == kNested);
}

TEST_CASE("aStepIsPutBehindAnother") {
  const Procedure nested = *parsePhases(kNested);
  const Phase added{PhaseKind::Measure, EndsAfter{300}};
  CHECK(textOr(withStepBehind(nested, 1, added)) ==
        "idle 1min, set cpu.boost off, 2 x (soak 5min, measure 5min, 3 x (measure 1min, pause \"look, (twice)\")), "
        "cool 2min");
  CHECK(withStepBehind(nested, 1, added)->phases.size() == nested.phases.size() + 2);
  CHECK_FALSE(withStepBehind(*parsePhases("10000 x (idle 1s)"), 0, added));
}

TEST_CASE("stepsAreWrittenAsTheyStandInTheText") {
  const std::string text = kNested;
  for (size_t step = 0; step < 5; ++step) {
    const std::string words = writtenStepText(*parsePhases(text), step);
    INFO(words);
    CHECK_FALSE(words.empty());
    CHECK(text.find(words) != std::string::npos);
  }
  CHECK(writtenStepText(*parsePhases(text), 5).empty());
}
