// SPDX-License-Identifier: GPL-3.0-or-later
// Which of a bench's own setups is meant, and what stated conditions do to it.
#include <algorithm>

#include "model/setup_name.h"
#include "sim/bench_spec.h"

namespace ash::sim {
namespace {

// A field that both name must not contradict; a setup of the bench that names nothing in common is not meant.
bool allStated(const Json& patch, const Json& conditions) {
  const Json own = patch.value("conditions", Json::object());
  if (own.empty()) return false;
  return std::all_of(own.items().begin(), own.items().end(),
                     [&](const auto& entry) { return conditions.value(entry.key(), Json()) == entry.value(); });
}

// A number that is stated and differs from what the bench has anyway; else 0.
double changedTo(const BenchSpec& spec, const Json& conditions, const char* field) {
  const auto found = conditions.find(field);
  const bool isNumber = found != conditions.end() && found->is_number();
  return isNumber && spec.conditions.value(field, Json()) != *found ? found->get<double>() : 0;
}

}  // namespace

std::string setupOnBench(const Json& setups, const std::string& name, const Json& conditions) {
  if (setups.contains(name)) return name;
  for (const auto& [key, patch] : setups.items()) {
    if (patch.value("title", std::string()) == name) return key;
  }
  // A rung of a ladder is the setup with one thing turned.
  if (const std::string family = familyName(name); family != name) {
    if (std::string key = setupOnBench(setups, family, Json()); !key.empty()) return key;
  }
  if (!conditions.is_object()) return {};
  for (const auto& [key, patch] : setups.items()) {
    if (allStated(patch, conditions)) return key;
  }
  return {};
}

void applyConditions(const Json& conditions, BenchSpec& spec) {
  if (!conditions.is_object()) return;
  if (const double duty = changedTo(spec, conditions, "fan_duty"); duty > 0) {
    for (FanSpec& fan : spec.fans) {
      if (fan.curveNode < 0) fan.fixedDutyPercent = std::clamp(duty, 0.0, 100.0);
    }
  }
  if (const double watts = changedTo(spec, conditions, "power_limit_w"); watts > 0 && !spec.devices.empty()) {
    DeviceSpec& first = spec.devices.front();
    // The short limit keeps its distance to the sustained one.
    const double factor = first.sustainedW > 0 && first.shortW > 0 ? first.shortW / first.sustainedW : 1;
    first.shortW = watts * factor;
    first.sustainedW = watts;
  }
  if (const double roomC = changedTo(spec, conditions, "room_c"); roomC != 0) spec.room.startC = roomC;
  for (const auto& [field, value] : conditions.items()) spec.conditions[field] = value;
}

}  // namespace ash::sim
