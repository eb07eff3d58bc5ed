// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "ladder/search.h"
#include "model/knob_condition.h"
#include "model/number_text.h"
#include "model/text.h"

namespace ash {
namespace {

// A sentence within one, unless it begins with letters that are always large.
std::string withinASentence(std::string words) {
  if (words.size() > 1 && std::islower(static_cast<unsigned char>(words[1])) != 0)
    words[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(words[0])));
  return words;
}

// Why the step that bounds it did not hold, without its full stop.
std::string whyNotHeld(const Ladder& ladder, size_t index) {
  for (const LadderStep& step : ladder.steps) {
    if (step.isConfirming || step.index != index || !step.held || *step.held) continue;
    std::string why = step.why;
    while (why.ends_with('.')) why.pop_back();
    return why.empty() ? why : " (" + withinASentence(std::move(why)) + ")";
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

// The run that speaks for the value that is chosen: the one that confirmed it, else its step.
const LadderStep* speakerOf(const Ladder& ladder, size_t chosen) {
  const LadderStep* speaker = nullptr;
  for (const LadderStep& step : ladder.steps) {
    const bool isOf = step.index == chosen && step.held.value_or(false);
    if (isOf && (speaker == nullptr || step.isConfirming || !speaker->isConfirming)) speaker = &step;
  }
  return speaker;
}

// How far the value that is chosen stands from the one that does not hold, and what it left to the nearest limit.
std::string marginWords(const Ladder& ladder, const LadderBounds& bounds) {
  std::string words;
  if (bounds.fails)
    words = fmt::format(", {} away from what does not hold",
                        valueWords(ladder.ask, static_cast<double>(*bounds.fails - *bounds.chosen) * ladder.ask.step));
  const LadderStep* speaker = speakerOf(ladder, *bounds.chosen);
  if (speaker != nullptr && speaker->leftK)
    words += fmt::format(", with {} left to the limit of {}", withUnit(*speaker->leftK, 1, "K"),
                         withinASentence(speaker->leftOf));
  return words;
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
