// SPDX-License-Identifier: GPL-3.0-or-later
// Stop rules: what ends a load for safety, or tells of it. Grammar in docs/procedures.md.
#pragma once

#include <string>
#include <string_view>

#include "model/result.h"
#include "model/role.h"

namespace ash {

/// "cpu.temp > 98 for 3s", "fan.cpu < 300 for 10s then warn", "throttled > 20% of 60s", "lost cpu.temp for 10s",
/// "wrong result then stop load", "disk < 50MB".
struct StopRule {
  enum class Kind { Above, Below, Throttled, Lost, WrongResult, Disk };
  /// What happens when it trips; each does what those before it do as well.
  enum class Action {
    Note,      ///< an event of the run
    Warn,      ///< a problem of the run, and the person is told
    StopLoad,  ///< the load goes off; the log goes on with the next phase without load
    StopRun,   ///< load and run end
  };
  Kind kind = Kind::Above;
  Role role;               ///< empty for Throttled, WrongResult and Disk
  double threshold = 0;    ///< in the role's unit; percent for Throttled, bytes for Disk, results for WrongResult
  double holdS = 0;        ///< how long it must hold; the window for Throttled
  bool isDefault = false;  ///< from the device's own critical limit, or for the book's sake
  Action action = Action::StopRun;
  std::string label = {};  ///< of a temperature without a role, in words; `role` is its column then
};

Result<StopRule> parseStopRule(std::string_view text);
/// The rule in its own grammar.
std::string stopRuleText(const StopRule& rule);
/// "note", "warn", "stop load", "stop run".
std::string_view stopActionText(StopRule::Action action);

}  // namespace ash
