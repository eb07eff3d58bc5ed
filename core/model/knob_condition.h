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

/// "cpu.power.limit", "gpu2.clock.most", "fan.rear.duty": what a machine's own knobs are called (docs/knobs.md). Any
/// other name is a knob of the person's own, which only a hand can turn.
bool isKnobId(std::string_view name);

/// A name of a person's own with its unit behind a comma: "firmware voltage, V" is {"firmware voltage", "V"}.
struct OwnKnob {
  std::string name, unit;
};
OwnKnob ownKnob(std::string_view knob);

/// A knob that a setup's conditions name, and where it stands there.
struct KnobCondition {
  KnobSetting setting;
  std::string field;          ///< of the conditions
  bool isStatedOnly = false;  ///< power_limit_w: also a condition where nothing can be turned
  bool operator==(const KnobCondition&) const = default;
};
/// `power_limit_w`, fields that are knobs by their id, and all below `knobs`, in their order. Values that are neither
/// number, word nor yes or no are left out.
std::vector<KnobCondition> knobConditions(const Json& conditions);

/// The field of a setup's conditions that turns a knob, where none does yet: one of its own for the power limit, else
/// that of all others.
std::string fieldOfKnob(const std::string& knob);

/// The conditions with this knob at a value: under the field that turns it.
Json withKnob(Json conditions, const std::string& knob, double value);

/// What a person is asked before a run: "Set firmware voltage to 1.1 V".
std::string turnByHandWords(const KnobSetting& setting);

}  // namespace ash
