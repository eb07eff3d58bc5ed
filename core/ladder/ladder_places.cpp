// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/ladder_places.h"

#include <algorithm>

#include "model/knob_condition.h"

namespace ash {

std::vector<LadderPlace> placesOf(const Ladder& ladder, size_t mostToCome) {
  std::vector<LadderPlace> all;
  // A number that no step has, where none comes next.
  NextStep next{kMostLadderSteps, false};
  if (!ladder.isOver) next = nextStep(ladder).value_or(next);
  const LadderBounds bounds = boundsOf(ladder);
  const size_t count = ladder.ask.stepCount();
  for (size_t index = 0; index < count; ++index) {
    LadderPlace place{index, nullptr, !next.isConfirming && next.index == index, false};
    for (const LadderStep& step : ladder.steps) {
      if (!step.isConfirming && step.index == index) place.step = &step;
    }
    // What is beyond the first that does not hold, or between what is known at the end, is never run.
    const bool mayCome = !ladder.isOver && (!bounds.fails || index < *bounds.fails) && count <= mostToCome;
    if (place.step != nullptr || place.isNext || mayCome) all.push_back(place);
  }
  for (const LadderStep& step : ladder.steps) {
    if (step.isConfirming) all.push_back({step.index, &step, false, true});
  }
  const bool isConfirmNext = next.isConfirming && (ladder.steps.empty() || ladder.steps.back().held);
  if (isConfirmNext) all.push_back({next.index, nullptr, true, true});
  return all;
}

LadderOutlook outlookOf(const Ladder& ladder) {
  LadderOutlook outlook;
  outlook.number = std::max<size_t>(1, ladder.steps.size());
  outlook.runs = stepsLeft(ladder);
  if (outlook.runs.most == 0) return outlook;
  const LadderAsk& ask = ladder.ask;
  const double byHandS = isKnobId(ask.knob) ? 0 : kNoMost;
  const double lookS = longestPhaseS(ask.rest) + longestPhaseS(ask.hold) + byHandS;
  const double confirmS = longestPhaseS(ask.rest) + ask.confirmS + byHandS;
  const bool isConfirming = nextStep(ladder)->isConfirming;
  const size_t confirms = !ask.isConfirmed() ? 0 : isConfirming ? outlook.runs.most : 1 + kMostStepsFurtherBack;
  const size_t looks = outlook.runs.most - confirms;
  outlook.runS = isConfirming ? confirmS : lookS;
  const size_t looksAfter = isConfirming ? 0 : looks - 1, confirmsAfter = isConfirming ? confirms - 1 : confirms;
  if (looksAfter > 0) outlook.afterS += static_cast<double>(looksAfter) * lookS;
  if (confirmsAfter > 0) outlook.afterS += static_cast<double>(confirmsAfter) * confirmS;
  return outlook;
}

}  // namespace ash
