// SPDX-License-Identifier: GPL-3.0-or-later
// Stop rules at work: fed with every sample, they say when one has tripped and how near the others are.
#pragma once

#include <deque>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "model/stop_rule.h"
#include "model/study.h"

namespace ash {

/// The latest values by column (the role, else the id); NaN while a reading is missing.
using RoleValues = std::map<std::string, double>;

/// What the rules look at in one moment.
struct RuleMoment {
  double timeS = 0;
  const RoleValues& values;
  const std::set<std::string>& asleep;  ///< columns whose device sleeps: missing, but not lost
  bool isUnderLoad = false;
  long long wrongResults = 0;   ///< found by the load since the run began
  double diskFreeB = kMissing;  ///< on the drive of the book; missing = not known
};

/// A rule that trips now.
struct RuleTrip {
  StopRule rule;
  std::string sentence;  ///< what was, and what the rule is
};

/// Rules that come from the devices' own critical limits, whatever a person has said of what they mean or hidden, and
/// the loss of the watched temperature.
std::vector<StopRule> defaultStopRules(const std::vector<SourceInfo>& sources, const std::string& watched);

/// Rules that guard the book and the result rather than a device; `--unwatched` leaves them on. `diskFreeB` at the
/// start of the run (missing = not known) keeps the limit reachable on a small drive.
std::vector<StopRule> recordingRules(const std::vector<StopRule>& given, double diskFreeB);

/// A rule on the loss of every reading that one of these rules watches and none guards yet: a rule that sees nothing
/// must not pass for one that is kept. It does what the strongest rule on the reading does.
std::vector<StopRule> lostRules(const std::vector<StopRule>& rules);

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

  /// Takes the values of one moment and returns the rules that trip now. A condition that holds for exactly its time
  /// trips; a reading that is missing for a moment neither trips a limit nor starts its time anew. A rule that stops
  /// something trips once; one that only notes or warns may trip again after it has been clear.
  std::vector<RuleTrip> take(const RuleMoment& moment);
  /// The machine slept: nothing has held since before that.
  void forgetTimes();

  const std::vector<RuleState>& states() const { return m_states; }

 private:
  double valueFor(const StopRule& rule, const RuleMoment& moment);
  double throttledPercent(double windowS, const RuleMoment& moment);
  bool advance(size_t index, const RuleMoment& moment);

  std::vector<RuleState> m_states;
  std::vector<double> m_sinceS;  // per rule: since when its condition holds; NaN = it does not
  std::optional<double> m_throttleLimitC;
  double m_bestClockMhz = 0;
  std::deque<std::pair<double, bool>> m_throttled;  // (time, was throttled) under load
};

}  // namespace ash
