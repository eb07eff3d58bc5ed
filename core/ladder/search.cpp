// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/search.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ash {
namespace {

/// What became of each step, confirming runs apart.
std::map<size_t, bool> heldOf(const Ladder& ladder) {
  std::map<size_t, bool> held;
  for (const LadderStep& step : ladder.steps) {
    if (!step.isConfirming && step.held) held[step.index] = *step.held;
  }
  return held;
}

// The next one to look at before both sides are known; none when they are.
std::optional<size_t> nextToLook(const Ladder& ladder, const LadderBounds& bounds) {
  const size_t last = ladder.ask.stepCount() - 1;
  const size_t past = bounds.holds ? *bounds.holds + 1 : 0;  // the first that nothing is known of
  if (bounds.fails && *bounds.fails == past) return std::nullopt;
  if (!bounds.fails && past > last) return std::nullopt;
  if (ladder.ask.search == LadderSearch::Steps || !bounds.holds) return past;
  // By halves: the last one says whether there is anything to find.
  if (!bounds.fails) return last;
  return *bounds.holds + (*bounds.fails - *bounds.holds) / 2;
}

// Where the first confirming run belongs: none when not even the first step holds.
std::optional<size_t> firstChoice(const LadderAsk& ask, const LadderBounds& bounds) {
  if (!bounds.fails) return bounds.holds;
  const auto back = static_cast<size_t>(ask.back);
  return *bounds.fails >= back ? std::optional(*bounds.fails - back) : std::nullopt;
}

size_t runsToLook(const LadderAsk& ask, const LadderBounds& bounds) {
  const size_t past = bounds.holds ? *bounds.holds + 1 : 0;
  const size_t end = bounds.fails ? *bounds.fails : ask.stepCount();
  if (past >= end) return 0;
  if (ask.search == LadderSearch::Steps) return end - past;
  size_t runs = bounds.holds ? 0 : 1;
  runs += bounds.fails ? 0 : 1;
  const size_t between = end - std::max<size_t>(past, 1);
  return runs + static_cast<size_t>(std::ceil(std::log2(static_cast<double>(between) + 1)));
}

}  // namespace

LadderBounds boundsOf(const Ladder& ladder) {
  LadderBounds bounds;
  for (const auto& [index, held] : heldOf(ladder)) {
    if (held) continue;
    bounds.fails = index;
    break;
  }
  for (const auto& [index, held] : heldOf(ladder)) {
    if (held && (!bounds.fails || index < *bounds.fails)) bounds.holds = index;
  }
  if (nextToLook(ladder, bounds)) return bounds;
  bounds.chosen = firstChoice(ladder.ask, bounds);
  if (!ladder.ask.isConfirmed() || !bounds.chosen) return bounds;
  const size_t first = *bounds.chosen;
  for (const LadderStep& step : ladder.steps) {
    if (!step.isConfirming || !step.held || *bounds.chosen != step.index) continue;
    bounds.confirmed = step.held;
    if (*step.held) return bounds;
    // One step further back, and again.
    if (step.index == 0 || first - step.index >= kMostStepsFurtherBack) {
      bounds.chosen.reset();
      return bounds;
    }
    bounds.chosen = step.index - 1;
  }
  return bounds;
}

std::optional<NextStep> nextStep(const Ladder& ladder) {
  const LadderBounds bounds = boundsOf(ladder);
  if (const auto look = nextToLook(ladder, bounds)) return NextStep{*look, false};
  const bool isToConfirm = ladder.ask.isConfirmed() && bounds.chosen && !(bounds.confirmed && *bounds.confirmed);
  return isToConfirm ? std::optional(NextStep{*bounds.chosen, true}) : std::nullopt;
}

StepsLeft stepsLeft(const Ladder& ladder) {
  const auto next = nextStep(ladder);
  if (!next) return {};
  if (next->isConfirming) return {1, 1 + kMostStepsFurtherBack};
  const LadderBounds bounds = boundsOf(ladder);
  StepsLeft left;
  left.most = runsToLook(ladder.ask, bounds) + (ladder.ask.isConfirmed() ? 1 + kMostStepsFurtherBack : 0);
  // The next one fails, and where there is one that holds before it, it is confirmed.
  left.least = 1 + (ladder.ask.isConfirmed() && bounds.holds ? 1 : 0);
  return left;
}

}  // namespace ash
