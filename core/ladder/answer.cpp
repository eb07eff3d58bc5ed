// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "ladder/search.h"
#include "model/knob_condition.h"
#include "model/text.h"

namespace ash {
namespace {

// Why the step that bounds it did not hold, without its full stop.
std::string whyNotHeld(const Ladder& ladder, size_t index) {
  for (const LadderStep& step : ladder.steps) {
    if (step.isConfirming || step.index != index || !step.held || *step.held) continue;
    std::string why = step.why;
    while (why.ends_with('.')) why.pop_back();
    // A sentence within one, unless it begins with letters that are always large.
    if (why.size() > 1 && std::islower(static_cast<unsigned char>(why[1])) != 0)
      why[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(why[0])));
    return why.empty() ? why : " (" + why + ")";
  }
  return {};
}

std::string foundWords(const Ladder& ladder, const LadderBounds& bounds) {
  const LadderAsk& ask = ladder.ask;
  const auto words = [&](size_t index) { return valueWords(ask, ask.valueAt(index)); };
  if (!bounds.holds && bounds.fails)
    return fmt::format("not even {} holds{}", words(*bounds.fails), whyNotHeld(ladder, *bounds.fails));
  if (!bounds.holds) return "no step has been held yet";
  if (!bounds.fails) return fmt::format("{} holds, as far as it was to go", words(*bounds.holds));
  return fmt::format("{} holds, {} does not{}", words(*bounds.holds), words(*bounds.fails),
                     whyNotHeld(ladder, *bounds.fails));
}

// How far the value that is chosen stands from the one that does not hold.
std::string marginWords(const Ladder& ladder, const LadderBounds& bounds) {
  if (!bounds.fails) return {};
  const size_t steps = *bounds.fails - *bounds.chosen;
  return fmt::format(", {} away from what does not hold",
                     valueWords(ladder.ask, static_cast<double>(steps) * ladder.ask.step));
}

std::string chosenWords(const Ladder& ladder, const LadderBounds& bounds) {
  const LadderAsk& ask = ladder.ask;
  const std::string load = ask.confirmLoad.empty() ? ask.load : ask.confirmLoad;
  if (!bounds.chosen && bounds.confirmed)
    return fmt::format("; no value was confirmed by {} of {}", durationWords(ask.confirmS), load);
  if (!bounds.chosen) return bounds.holds ? fmt::format("; {} steps back from it there is none", ask.back) : "";
  const std::string chosen = valueWords(ask, ask.valueAt(*bounds.chosen));
  if (bounds.confirmed && *bounds.confirmed)
    return fmt::format("; {} is chosen{}, and {} of {} confirmed it", chosen, marginWords(ladder, bounds),
                       durationWords(ask.confirmS), load);
  return fmt::format("; {} is chosen{}", chosen, marginWords(ladder, bounds));
}

}  // namespace

std::string valueWords(const LadderAsk& ask, double value) {
  return fmt::format("{}{}{}", value, ask.unit.empty() ? "" : " ", ask.unit);
}

std::string answerOf(const Ladder& ladder) {
  const LadderBounds bounds = boundsOf(ladder);
  const std::string knob = isKnobId(ladder.ask.knob) ? ladder.ask.knob : ownKnob(ladder.ask.knob).name;
  if (!ladder.isOver) return fmt::format("{}: {} so far.", knob, foundWords(ladder, bounds));
  return fmt::format("{}: {}{}.", knob, foundWords(ladder, bounds), chosenWords(ladder, bounds));
}

}  // namespace ash
