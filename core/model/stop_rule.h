// SPDX-License-Identifier: GPL-3.0-or-later
// Stop rules: what ends a load for safety. Grammar in docs/procedures.md.
#pragma once

#include <string>
#include <string_view>

#include "model/result.h"

namespace ash {

/// "cpu.temp > 98 for 3s", "fan.cpu < 300 for 10s", "throttled > 20% of 60s", "lost cpu.temp for 10s".
struct StopRule {
  enum class Kind { Above, Below, Throttled, Lost };
  Kind kind = Kind::Above;
  std::string role;        ///< empty for Throttled
  double threshold = 0;    ///< in the role's unit; percent for Throttled
  double holdS = 0;        ///< how long it must hold; the window for Throttled
  bool isDefault = false;  ///< from the device's own critical limit
};

Result<StopRule> parseStopRule(std::string_view text);
/// The rule in its own grammar.
std::string stopRuleText(const StopRule& rule);

}  // namespace ash
