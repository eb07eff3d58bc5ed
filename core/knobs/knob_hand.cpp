// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/knob_hand.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "model/text.h"

namespace ash {
std::string turnedWords(const Turned& turned) {
  const std::string unit = turned.unit.empty() ? "" : " " + turned.unit;
  if (turned.isAsAsked) return fmt::format("{}: {}{}", turned.knob, turned.readBack, unit);
  return fmt::format("{}: asked {}{}, got {}{}", turned.knob, turned.asked, unit, turned.readBack, unit);
}

Result<KnobTarget> targetOf(const Knob& knob, const std::string& value) {
  if (!knob.isNumber()) {
    std::vector<std::string> words;
    for (const KnobChoice& one : knob.choices) {
      words.push_back(one.word);
      if (one.word == value) return KnobTarget{static_cast<double>(words.size()) - 1, one.word, one.raw};
    }
    return Error::badInput(
        fmt::format("{} takes one of: {}; not \"{}\".", knob.id, fmt::join(words, ", "), withoutControls(value)));
  }
  std::string_view number = trimmed(value);
  if (!knob.unit.empty() && number.ends_with(knob.unit))
    number = trimmed(number.substr(0, number.size() - knob.unit.size()));
  const auto parsed = parseNumber(number);
  if (!parsed || !std::isfinite(*parsed))
    return Error::badInput(
        fmt::format("{} takes a number ({}), not \"{}\".", knob.id, knob.unit, withoutControls(value)));
  constexpr double kLargest = 1e9;
  const double least = knob.least.value_or(0), most = knob.most.value_or(kLargest);
  if (*parsed < least || *parsed > most || (!knob.least && *parsed <= 0))
    return Error::badInput(knob.most ? fmt::format("{} goes from {} to {}.", knob.id, valueText(least, knob.unit),
                                                   valueText(most, knob.unit))
                                     : fmt::format("{} has to be above 0.", knob.id));
  return KnobTarget{*parsed, {}, {}};
}

const Knob* KnobHand::find(const std::string& id) const {
  const auto found = std::find_if(knobs().begin(), knobs().end(), [&](const Knob& knob) { return knob.id == id; });
  return found == knobs().end() ? nullptr : &*found;
}

Status KnobHand::check(const std::string& id, const std::string& value) const {
  const Knob* knob = find(id);
  if (knob == nullptr)
    return Error::badInput(
        fmt::format("There is no knob \"{}\" on this machine; `ashg knobs` lists them.", withoutControls(id)));
  if (!knob->isTurnable()) return Error::environment(fmt::format("{} cannot be turned. {}", id, knob->whyNot));
  const auto target = targetOf(*knob, value);
  return target ? Status() : target.error();
}

}  // namespace ash
