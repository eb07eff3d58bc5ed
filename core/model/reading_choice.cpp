// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/reading_choice.h"

#include <cmath>

#include "model/role.h"

namespace ash {

Json choicesToJson(const ReadingChoices& choices) {
  Json all = Json::object();
  for (const auto& [id, choice] : choices) {
    if (choice.isEmpty()) continue;
    Json one = Json::object();
    if (choice.role) one["role"] = choice.role->text();
    if (!choice.limits.empty()) one["limits"] = choice.limits;
    if (choice.isHidden) one["hidden"] = true;
    all[id] = std::move(one);
  }
  return all;
}

ReadingChoices choicesFromJson(const Json& json) {
  ReadingChoices choices;
  if (!json.is_object()) return choices;
  for (auto it = json.begin(); it != json.end(); ++it) {
    const Json& one = it.value();
    ReadingChoice choice;
    const Json role = valueIn(one, "role", Json());
    if (role.is_string() && (role.get<std::string>().empty() || Role(role.get<std::string>()).isKnown()))
      choice.role = role.get<std::string>();
    const Json limits = valueIn(one, "limits", Json::object());
    for (auto limit = limits.begin(); limits.is_object() && limit != limits.end(); ++limit) {
      if (limit.value().is_number() && std::isfinite(limit.value().get<double>()))
        choice.limits[limit.key()] = limit.value().get<double>();
    }
    choice.isHidden = valueIn(one, "hidden", false);
    if (!choice.isEmpty()) choices[it.key()] = std::move(choice);
  }
  return choices;
}

namespace {
std::string valueOr(const std::map<std::string, std::string>& texts, const char* key) {
  const auto found = texts.find(key);
  return found == texts.end() ? std::string() : found->second;
}
}  // namespace

void applyChoice(const ReadingChoice& choice, Reading& reading) {
  if (choice.role) reading.role = *choice.role;
  for (const auto& [name, value] : choice.limits) {
    // Where a device says it is in danger nobody can say it is not: the rules that stop a load hang on it.
    // An emergency limit counts instead of a critical one: it must not come from a book above what the device tells.
    const bool isDanger = name == "critical" || name == "emergency";
    const auto tells = [&](const char* limit) {
      return reading.limits.contains(limit) && valueOr(reading.origins, limit) != "typed";
    };
    const bool isRaised =
        (tells(name.c_str()) && value > reading.limits.at(name)) ||
        (name == "emergency" && !tells("emergency") && tells("critical") && value > reading.limits.at("critical"));
    if (isDanger && isRaised) continue;
    reading.limits[name] = value;
    reading.origins[name] = "typed";
  }
}

bool hides(const ReadingChoices& choices, const std::string& id) {
  const auto choice = choices.find(id);
  return choice != choices.end() && choice->second.isHidden;
}

}  // namespace ash
