// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/knob_condition.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "model/text.h"

namespace ash {
namespace {

std::optional<std::string> valueText(const Json& value) {
  if (value.is_boolean()) return value.get<bool>() ? "on" : "off";
  if (value.is_string()) return value.get<std::string>();
  if (!value.is_number() || !std::isfinite(value.get<double>())) return std::nullopt;
  return fmt::format("{}", value.get<double>());
}

void add(const std::string& knob, const Json& value, const std::string& field, std::vector<KnobCondition>& all) {
  if (const auto text = valueText(value)) all.push_back({{knob, *text}, field, field == kPowerLimitField});
}

}  // namespace

bool isKnobId(std::string_view name) {
  constexpr std::array<std::string_view, 9> kEnds = {
      ".power.limit", ".power.limit.short", ".clock.most", ".clock.least", ".boost",
      ".governor",    ".preference",        ".duty",       ".mode"};
  const bool isPlain = std::all_of(name.begin(), name.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '.' || c == '_' || c == '-';
  });
  return isPlain && std::any_of(kEnds.begin(), kEnds.end(),
                                [&](std::string_view end) { return name.size() > end.size() && name.ends_with(end); });
}

std::string unitOfKnob(std::string_view id) {
  if (!isKnobId(id)) return {};
  if (id.find(".power.") != std::string_view::npos) return "W";
  if (id.find(".clock.") != std::string_view::npos) return "MHz";
  return id.ends_with(".duty") ? "%" : "";
}

bool isOwnKnob(std::string_view field) {
  constexpr size_t kLongestUnit = 3;  // "MHz", "RPM", "mV", "%": a longer word is no unit but part of a name
  const OwnKnob own = ownKnob(field);
  return !own.name.empty() && !own.unit.empty() && own.unit.size() <= kLongestUnit &&
         own.unit.find(' ') == std::string::npos;
}

OwnKnob ownKnob(std::string_view knob) {
  const size_t comma = knob.rfind(',');
  if (comma == std::string_view::npos) return {std::string(trimmed(knob)), {}};
  return {std::string(trimmed(knob.substr(0, comma))), std::string(trimmed(knob.substr(comma + 1)))};
}

std::vector<KnobCondition> knobConditions(const Json& conditions) {
  std::vector<KnobCondition> all;
  if (!conditions.is_object()) return all;
  for (const auto& [field, value] : conditions.items()) {
    if (field == kPowerLimitField && value.is_number()) {
      add(kPowerLimitKnob, value, field, all);
    } else if (field == kKnobsField && value.is_object()) {
      for (const auto& [knob, wanted] : value.items()) add(knob, wanted, field, all);
    } else if (isKnobId(field) || (isOwnKnob(field) && value.is_number())) {
      add(field, value, field, all);
    }
  }
  return all;
}

std::string fieldOfKnob(const std::string& knob) { return knob == kPowerLimitKnob ? kPowerLimitField : knob; }

Json withKnob(Json conditions, const std::string& knob, double value) {
  if (!conditions.is_object()) conditions = Json::object();
  if (valueIn(conditions, kKnobsField, Json()).contains(knob))
    conditions[kKnobsField][knob] = value;
  else
    conditions[fieldOfKnob(knob)] = value;
  return conditions;
}

std::string turnByHandWords(const KnobSetting& setting) {
  const OwnKnob own = ownKnob(setting.knob);
  return withoutControls(
      fmt::format("Set {} to {}{}{}", own.name, setting.value, own.unit.empty() ? "" : " ", own.unit));
}

}  // namespace ash
