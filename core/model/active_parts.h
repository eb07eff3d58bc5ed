// SPDX-License-Identifier: GPL-3.0-or-later
// What in a study would do something on this machine: commands, addresses, knobs. A book may come from a stranger, so
// each is shown and confirmed on a machine before its first use there.
#pragma once

#include <string>
#include <vector>

#include "model/study.h"

namespace ash {

struct ActivePart {
  std::string where;  ///< "load render", "setup mesh", "plan"
  std::string kind;   ///< "command", "address" or "knob"
  std::string text;   ///< whole, as it would be used
  /// What is confirmed: the kind and the text, wherever it stands.
  std::string key() const { return kind + " " + text; }
  bool operator==(const ActivePart&) const = default;
};

/// All of a study, by the keys "command", "address", "knob" and "knobs" at any depth of plan, setups and load specs.
std::vector<ActivePart> activeParts(const Study& study);
/// Of one load, one setup and the plan: what a run of that cell would use.
std::vector<ActivePart> activeParts(const Study& study, const std::string& setup, const std::string& load);

}  // namespace ash
