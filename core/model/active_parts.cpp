// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/active_parts.h"

#include <string_view>

namespace ash {
namespace {

std::string kindOfKey(std::string_view key) {
  if (key == "command" || key == "address" || key == "knob") return std::string(key);
  return key == "knobs" ? "knob" : "";
}

// A list of words is a command with its arguments; anything else is told as it is written.
std::string textOf(const Json& value) {
  return value.is_string() ? value.get<std::string>() : value.dump(-1, ' ', false, Json::error_handler_t::replace);
}

void collect(const std::string& where, const Json& object, std::vector<ActivePart>& parts) {
  if (!object.is_structured()) return;
  for (const auto& [key, value] : object.items()) {
    const std::string kind = object.is_object() ? kindOfKey(key) : std::string();
    if (kind.empty())
      collect(where, value, parts);
    else if (!value.is_null() && value != "")
      parts.push_back({where, kind, textOf(value)});
  }
}

void collectSetup(const Setup& setup, std::vector<ActivePart>& parts) {
  collect("setup " + setup.name, setup.parts, parts);
  collect("setup " + setup.name, setup.conditions, parts);
}

}  // namespace

std::vector<ActivePart> activeParts(const Study& study) {
  std::vector<ActivePart> parts;
  collect("plan", study.plan, parts);
  for (const Setup& setup : study.setups) collectSetup(setup, parts);
  for (const Load& load : study.loads) collect("load " + load.name, load.spec, parts);
  return parts;
}

std::vector<ActivePart> activeParts(const Study& study, const std::string& setup, const std::string& load) {
  std::vector<ActivePart> parts;
  collect("plan", study.plan, parts);
  for (const Setup& row : study.setups) {
    if (row.name == setup) collectSetup(row, parts);
  }
  for (const Load& row : study.loads) {
    if (row.name == load) collect("load " + row.name, row.spec, parts);
  }
  return parts;
}

}  // namespace ash
