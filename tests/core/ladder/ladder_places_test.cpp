// SPDX-License-Identifier: GPL-3.0-or-later
// What is drawn of a ladder, and how long it goes on: counted by hand.
#include "ladder/ladder_places.h"

#include <catch2/catch.hpp>

using namespace ash;

namespace {

/// 40, 50, 60, 70 W; a minute's rest, five minutes a step.
Ladder fourSteps() {
  Ladder ladder;
  ladder.ask.knob = "cpu.power.limit";
  ladder.ask.unit = "W";
  ladder.ask.from = 40;
  ladder.ask.to = 70;
  ladder.ask.step = 10;
  ladder.ask.rest = {PhaseKind::Idle, EndsAfter{60}};
  ladder.ask.hold = {PhaseKind::Soak, EndsAfter{300}};
  return ladder;
}

void add(Ladder& ladder, size_t index, std::optional<bool> held, bool isConfirming = false) {
  ladder.steps.push_back({index, isConfirming, "x", "r" + std::to_string(ladder.steps.size()), {}, held, {}});
}

std::string drawn(const Ladder& ladder, size_t mostToCome = 24) {
  std::string signs;
  for (const LadderPlace& place : placesOf(ladder, mostToCome)) {
    if (place.isConfirming) signs += '|';
    if (place.isGoingOn())
      signs += '>';
    else if (place.step != nullptr)
      signs += *place.step->held ? '+' : '-';
    else
      signs += place.isNext ? 'n' : '.';
  }
  return signs;
}

}  // namespace

TEST_CASE("aLadderIsDrawnAsFarAsItIsKnownAndWhatMayCome") {
  Ladder ladder = fourSteps();
  CHECK(drawn(ladder) == "n...");
  add(ladder, 0, {});
  CHECK(drawn(ladder) == ">...");
  ladder.steps.back().held = true;
  add(ladder, 1, true);
  add(ladder, 2, {});
  CHECK(drawn(ladder) == "++>.");
  // What is beyond the first that does not hold is never run.
  ladder.steps.back().held = false;
  CHECK(drawn(ladder) == "++-");
  ladder.ask.confirmS = 600;
  CHECK(drawn(ladder) == "++-|n");
  add(ladder, 1, {}, true);
  CHECK(drawn(ladder) == "++-|>");
  // Of a long one only what is known.
  CHECK(drawn(fourSteps(), 3) == "n");
}

TEST_CASE("howLongALadderGoesOnAtMost") {
  Ladder ladder = fourSteps();
  add(ladder, 0, {});
  const LadderOutlook first = outlookOf(ladder);
  CHECK(first.number == 1);
  CHECK(first.runs.most == 4);
  CHECK(first.runS == 360);
  CHECK(first.afterS == 3 * 360);
  // The confirming run and four that may follow it, each with its rest.
  ladder.ask.confirmS = 600;
  CHECK(outlookOf(ladder).runs.most == 4 + 5);
  CHECK(outlookOf(ladder).afterS == 3 * 360 + 5 * 660);
  ladder.steps.back().held = true;
  add(ladder, 1, false);
  add(ladder, 0, {}, true);
  const LadderOutlook confirming = outlookOf(ladder);
  CHECK(confirming.number == 3);
  CHECK(confirming.runS == 660);
  CHECK(confirming.afterS == 4 * 660);
  // A step that may take until it has settled counts at its most.
  Ladder settles = fourSteps();
  settles.ask.hold = {PhaseKind::Soak, EndsWhenSettled{300, 1800}};
  add(settles, 0, {});
  CHECK(outlookOf(settles).runS == 1860);
  // Nobody knows how long a person takes.
  Ladder byHand = fourSteps();
  byHand.ask.knob = "core voltage, V";
  add(byHand, 0, {});
  CHECK(std::isinf(outlookOf(byHand).afterS));
  Ladder over = fourSteps();
  for (size_t i = 0; i < 4; ++i) add(over, i, true);
  CHECK(outlookOf(over).runs.most == 0);
  CHECK(outlookOf(over).afterS == 0);
}
