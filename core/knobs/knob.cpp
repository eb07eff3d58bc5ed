// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/knob.h"

#include <fmt/format.h>

#include <cmath>

namespace ash {

std::string knobNumber(double value) { return fmt::format("{}", std::round(value * 1000) / 1000); }

Json knobToJson(const Knob& knob) {
  const auto number = [](const std::optional<double>& value) { return value ? Json(*value) : Json(nullptr); };
  Json words = nullptr;
  if (!knob.isNumber()) {
    words = Json::array();
    for (const KnobChoice& one : knob.choices) words.push_back(one.word);
  }
  return {{"id", knob.id},
          {"name", knob.name},
          {"path", knob.files.empty() ? Json(nullptr) : Json(knob.files.front())},
          {"unit", knob.unit},
          {"value", knob.isNumber()       ? number(knob.value)
                    : knob.choice.empty() ? Json(nullptr)
                                          : Json(knob.choice)},
          {"default", number(knob.byDefault)},
          {"least", number(knob.least)},
          {"most", number(knob.most)},
          {"step", number(knob.step)},
          {"choices", words},
          {"turnable", knob.isTurnable()},
          {"why_not", knob.isTurnable() ? Json(nullptr) : Json(knob.whyNot)}};
}

// A duty is a share of 255 steps, or of fewer: what is told of it is not more exact than that.
std::string valueText(double value, const std::string& unit) {
  return fmt::format("{} {}", knobNumber(unit == "%" ? std::round(value * 10) / 10 : value), unit);
}

std::string valueWords(const Knob& knob) {
  if (!knob.isNumber()) return knob.choice.empty() ? "–" : knob.choice;
  return knob.value ? valueText(*knob.value, knob.unit) : "–";
}

}  // namespace ash
