// SPDX-License-Identifier: GPL-3.0-or-later
// Conditions of a setup that name a knob: a run turns them, or asks a person to.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "model/json.h"
#include "model/procedure.h"

namespace ash {

inline constexpr char kPowerLimitKnob[] = "cpu.power.limit";
/// Fields of a setup's conditions that turn that knob, and all knobs below it.
inline constexpr char kPowerLimitField[] = "power_limit_w", kKnobsField[] = "knobs";

/// "cpu.power.limit", "gpu2.clock.most", "fan.rear.duty": what a machine's own knobs are called (docs/knobs.md). Any
/// other name is a knob of the person's own, which only a hand can turn.
bool isKnobId(std::string_view name);
/// "W", "MHz", "%" by what the id ends in; empty for knobs with words.
std::string unitOfKnob(std::string_view id);

/// A name of a person's own with its unit behind a comma: "firmware voltage, V" is {"firmware voltage", "V"}.
struct OwnKnob {
  std::string name, unit;
};
OwnKnob ownKnob(std::string_view knob);
/// Whether a field of conditions is written so, with a unit: no field of another kind has a comma.
bool isOwnKnob(std::string_view field);

/// A knob that a setup's conditions name, and where it stands there.
struct KnobCondition {
  KnobSetting setting;
  std::string field;          ///< of the conditions
  bool isStatedOnly = false;  ///< power_limit_w: also a condition where nothing can be turned
  bool operator==(const KnobCondition&) const = default;
};
/// `power_limit_w`, fields that are knobs by their id or of the person's own, and all below `knobs`, in their order.
/// Values that are neither number, word nor yes or no are left out.
std::vector<KnobCondition> knobConditions(const Json& conditions);

/// The field of a setup's conditions that turns a knob: its id, but for the power limit.
std::string fieldOfKnob(const std::string& knob);

/// The conditions with this knob at a value: under the field that turns it.
Json withKnob(Json conditions, const std::string& knob, double value);

/// What a person is asked before a run: "Set firmware voltage to 1.1 V".
std::string turnByHandWords(const KnobSetting& setting);

}  // namespace ash
