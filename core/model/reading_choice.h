// SPDX-License-Identifier: GPL-3.0-or-later
// What a person has said of a machine's readings: what one means, where its limit is, whether it is logged.
#pragma once

#include <map>
#include <optional>
#include <string>

#include "model/json.h"
#include "model/reading.h"

namespace ash {

struct ReadingChoice {
  std::optional<Role> role;              ///< empty text = it has none; no value = as the rules say
  std::map<std::string, double> limits;  ///< by name ("throttle", "critical"), stored unit
  bool isHidden = false;                 ///< not shown; logged only where a stop rule hangs on it
  bool isEmpty() const { return !role && limits.empty() && !isHidden; }
};

/// By the reading's id.
using ReadingChoices = std::map<std::string, ReadingChoice>;

/// Whether a person has hidden the reading of that id.
bool hides(const ReadingChoices& choices, const std::string& id);

/// {"ID": {"role": …, "limits": {…}, "hidden": true}}; what cannot be read of it is left out.
Json choicesToJson(const ReadingChoices& choices);
ReadingChoices choicesFromJson(const Json& json);

/// Applies what was said to one reading: role and limits, with "typed" as their origin. A limit of danger (critical,
/// emergency) that the device itself tells can be lowered, not raised, and none can be put above one that it tells.
void applyChoice(const ReadingChoice& choice, Reading& reading);

}  // namespace ash
