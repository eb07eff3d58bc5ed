// SPDX-License-Identifier: GPL-3.0-or-later
// What ends a step of a ladder as not held: a stop rule, or a reading held against that of the first step.
#pragma once

#include <string>
#include <string_view>
#include <variant>

#include "model/result.h"
#include "model/stop_rule.h"

namespace ash {

/// "work.rate < 98% of first": the mean in the window of a step's run against that of the first step's.
struct OfFirst {
  Role role;
  bool isBelow = true;
  double percent = 0;
};
using LadderRule = std::variant<StopRule, OfFirst>;

/// A stop rule (docs/procedures.md) that stops a run, or "ROLE < N% of first", "ROLE > N% of first".
Result<LadderRule> parseLadderRule(std::string_view text);
std::string ladderRuleText(const LadderRule& rule);

}  // namespace ash
