// SPDX-License-Identifier: GPL-3.0-or-later
// Stop rules at work: fed with every sample, they say when one has tripped and how near the others are.
#pragma once

#include <deque>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "model/stop_rule.h"
#include "model/study.h"

namespace ash {

/// The latest values by role; NaN while a reading is missing.
using RoleValues = std::map<std::string, double>;

/// Rules that come from the devices' own critical limits, and the loss of the watched temperature.
std::vector<StopRule> defaultStopRules(const std::vector<SourceInfo>& sources, const std::string& watched);

struct RuleState {
  StopRule rule;
  double value = 0;  ///< what it looks at now; NaN when missing
  double heldS = 0;  ///< for how long the condition has held
  bool hasTripped = false;
  /// Distance to the limit in the rule's unit; negative beyond it, NaN where it means nothing.
  double distance() const;
};

class StopRuleWatch {
 public:
  /// `throttleLimitC`: the device's limit, for rules on the throttled share; empty when it is not known.
  StopRuleWatch(std::vector<StopRule> rules, std::optional<double> throttleLimitC);

  /// Takes the values of one moment. Returns the sentence of the first rule that trips now. A condition that holds for
  /// exactly its time trips. Once tripped, a rule stays so.
  std::optional<std::string> take(double timeS, const RoleValues& values, bool isUnderLoad);

  const std::vector<RuleState>& states() const { return m_states; }

 private:
  bool holds(const StopRule& rule, double value) const;
  double throttledPercent(double timeS, double windowS, const RoleValues& values, bool isUnderLoad);

  std::vector<RuleState> m_states;
  std::vector<double> m_sinceS;  // per rule: since when its condition holds; NaN = it does not
  std::optional<double> m_throttleLimitC;
  double m_bestClockMhz = 0;
  std::deque<std::pair<double, bool>> m_throttled;  // (time, was throttled) under load
};

}  // namespace ash
