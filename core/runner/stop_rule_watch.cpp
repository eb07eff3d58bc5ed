// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/stop_rule_watch.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kDefaultHoldS = 2;
constexpr double kLostForS = 10;
constexpr double kThrottledBelow = 0.97;
constexpr double kAtLimitK = 1.5;
constexpr double kColdestC = -100, kHottestC = 200;  // beyond, a sensor tells rubbish and not a temperature
constexpr double kDiskLeastB = 20e6;
constexpr double kDiskShare = 0.1;  // of what was free at the start, on a small drive

double valueOf(const RoleValues& values, const std::string& role) {
  const auto found = values.find(role);
  return found == values.end() ? kMissing : found->second;
}

// What a rule looks at as it may trust it: an impossible temperature is no reading.
double trustedValue(const RoleValues& values, const StopRule& rule) {
  const double value = valueOf(values, rule.role.text());
  const bool isTemperature = !rule.label.empty() || rule.role.quantity() == Quantity::Temperature;
  return isTemperature && (value < kColdestC || value > kHottestC) ? kMissing : value;
}

bool holds(const StopRule& rule, double value) {
  switch (rule.kind) {
    case StopRule::Kind::Above:
    case StopRule::Kind::Throttled:
    case StopRule::Kind::WrongResult:
      return value > rule.threshold;
    case StopRule::Kind::Below:
    case StopRule::Kind::Disk:
      return value < rule.threshold;
    case StopRule::Kind::Lost:
      return !std::isfinite(value);
  }
  return false;
}

bool isStop(const StopRule& rule) { return rule.action >= StopRule::Action::StopLoad; }

std::string sentence(const RuleState& state) {
  const StopRule& rule = state.rule;
  const std::string name = rule.label.empty() ? rule.role.title() : rule.label;
  const std::string unit = rule.role.isKnown()  ? std::string(unitOf(rule.role.quantity()))
                           : rule.label.empty() ? ""
                                                : "°C";
  switch (rule.kind) {
    case StopRule::Kind::Above:
      return fmt::format("{} was {:.1f} {} for {}; the rule is {:g} {} for {}.", name, state.value, unit,
                         durationWords(state.heldS), rule.threshold, unit, durationWords(rule.holdS));
    case StopRule::Kind::Below:
      return fmt::format("{} was {:.0f} {} for {}; the rule is at least {:g} {} for {}.", name, state.value, unit,
                         durationWords(state.heldS), rule.threshold, unit, durationWords(rule.holdS));
    case StopRule::Kind::Throttled:
      return fmt::format("The clock was held down for {:.1f} % of the last {}; the rule is {:g} %.", state.value,
                         durationWords(rule.holdS), rule.threshold);
    case StopRule::Kind::Lost:
      return fmt::format("{} gave no reading for {}.", name, durationWords(rule.holdS));
    case StopRule::Kind::WrongResult:
      return "The load found a wrong result: the machine computes wrongly at these settings.";
    case StopRule::Kind::Disk:
      return fmt::format(
          "The drive of the book is nearly full: {:.1f} MB are free; the rule is {:.1f} MB. Make room on it.",
          state.value / 1e6, rule.threshold / 1e6);
  }
  return {};
}

}  // namespace

double RuleState::distance() const {
  if (rule.kind == StopRule::Kind::Above || rule.kind == StopRule::Kind::Throttled) return rule.threshold - value;
  const bool isFloor = rule.kind == StopRule::Kind::Below || rule.kind == StopRule::Kind::Disk;
  return isFloor ? value - rule.threshold : kMissing;
}

std::vector<StopRule> defaultStopRules(const std::vector<SourceInfo>& sources, const std::string& watched) {
  std::vector<StopRule> rules;
  for (const SourceInfo& source : sources) {
    for (const Reading& reading : source.readings) {
      const auto critical = reading.limits.find("critical");
      const bool isTemperature = reading.role.isLoadedTemperature() || reading.ruleRole.isLoadedTemperature();
      if (!isTemperature || critical == reading.limits.end()) continue;
      // A card that slows itself down at its critical limit is in danger only at its emergency limit.
      const auto emergency = reading.limits.find("emergency");
      const bool isFurther = emergency != reading.limits.end() && emergency->second > critical->second;
      StopRule rule{StopRule::Kind::Above, reading.column(), isFurther ? emergency->second : critical->second,
                    kDefaultHoldS, true};
      if (reading.role.empty()) rule.label = fmt::format("{} ({})", reading.name, reading.device);
      rules.push_back(std::move(rule));
    }
  }
  if (!watched.empty()) rules.push_back({StopRule::Kind::Lost, watched, 0, kLostForS, true});
  return rules;
}

std::vector<StopRule> lostRules(const std::vector<StopRule>& rules) {
  std::map<Role, StopRule> needed;
  std::set<Role> guarded;
  for (const StopRule& rule : rules) {
    if (rule.kind == StopRule::Kind::Lost) guarded.insert(rule.role);
    if (rule.kind != StopRule::Kind::Above && rule.kind != StopRule::Kind::Below) continue;
    StopRule lost{StopRule::Kind::Lost, rule.role, 0, kLostForS, true, rule.action, rule.label};
    const auto [known, isNew] = needed.emplace(rule.role, lost);
    if (!isNew) known->second.action = std::max(known->second.action, rule.action);
  }
  std::vector<StopRule> lost;
  for (auto& [role, rule] : needed) {
    if (!guarded.contains(role)) lost.push_back(std::move(rule));
  }
  return lost;
}

std::vector<StopRule> recordingRules(const std::vector<StopRule>& given, double diskFreeB) {
  const auto isGiven = [&](StopRule::Kind kind) {
    return std::any_of(given.begin(), given.end(), [kind](const StopRule& rule) { return rule.kind == kind; });
  };
  std::vector<StopRule> rules;
  if (!isGiven(StopRule::Kind::WrongResult)) rules.push_back({StopRule::Kind::WrongResult, "", 0, 0, true});
  const double leastB = std::isfinite(diskFreeB) ? std::min(kDiskLeastB, kDiskShare * diskFreeB) : kDiskLeastB;
  if (!isGiven(StopRule::Kind::Disk)) rules.push_back({StopRule::Kind::Disk, "", leastB, 0, true});
  return rules;
}

StopRuleWatch::StopRuleWatch(std::vector<StopRule> rules, std::optional<double> throttleLimitC)
    : m_sinceS(rules.size(), kMissing), m_throttleLimitC(throttleLimitC) {
  for (StopRule& rule : rules) m_states.push_back({std::move(rule), kMissing, 0, false});
}

void StopRuleWatch::forgetTimes() {
  std::fill(m_sinceS.begin(), m_sinceS.end(), kMissing);
  m_throttled.clear();
}

double StopRuleWatch::throttledPercent(double windowS, const RuleMoment& moment) {
  const double clock = valueOf(moment.values, roles::kCpuClock);
  if (!moment.isUnderLoad) m_throttled.clear();
  if (!moment.isUnderLoad || !std::isfinite(clock)) return 0;
  m_bestClockMhz = std::max(m_bestClockMhz, clock);
  const double celsius = valueOf(moment.values, roles::kCpuTemp);
  const bool isHot = !m_throttleLimitC || celsius >= *m_throttleLimitC - kAtLimitK;
  if (m_throttled.empty() || m_throttled.back().first < moment.timeS) {
    m_throttled.emplace_back(moment.timeS, clock < kThrottledBelow * m_bestClockMhz && isHot);
  }
  size_t inWindow = 0, held = 0;
  for (const auto& [t, wasThrottled] : m_throttled) {
    if (t <= moment.timeS - windowS) continue;
    ++inWindow;
    held += wasThrottled;
  }
  const bool isFull = !m_throttled.empty() && m_throttled.front().first <= moment.timeS - windowS;
  while (m_throttled.size() > 100'000) m_throttled.pop_front();
  return isFull && inWindow > 0 ? 100.0 * static_cast<double>(held) / static_cast<double>(inWindow) : 0;
}

double StopRuleWatch::valueFor(const StopRule& rule, const RuleMoment& moment) {
  switch (rule.kind) {
    case StopRule::Kind::Throttled:
      return throttledPercent(rule.holdS, moment);
    case StopRule::Kind::WrongResult:
      return static_cast<double>(moment.wrongResults);
    case StopRule::Kind::Disk:
      return moment.diskFreeB;
    default:
      return trustedValue(moment.values, rule);
  }
}

// Brings one rule up to this moment; true when it trips now.
bool StopRuleWatch::advance(size_t index, const RuleMoment& moment) {
  RuleState& state = m_states[index];
  const StopRule& rule = state.rule;
  double& sinceS = m_sinceS[index];
  state.value = valueFor(rule, moment);
  // A slow fan or a lost reading matters under load; at rest a fan may well stand still.
  const bool needsLoad =
      rule.kind == StopRule::Kind::Below || rule.kind == StopRule::Kind::Lost || rule.kind == StopRule::Kind::Throttled;
  const bool sleeps = rule.kind == StopRule::Kind::Lost && moment.asleep.contains(rule.role.text());
  const bool isArmed = (!needsLoad || moment.isUnderLoad) && !sleeps;
  if (isArmed && rule.kind != StopRule::Kind::Lost && !std::isfinite(state.value)) return false;
  if (!isArmed || !holds(rule, state.value)) {
    sinceS = kMissing;
    state.heldS = 0;
    if (!isStop(rule)) state.hasTripped = false;
    return false;
  }
  if (!std::isfinite(sinceS)) sinceS = moment.timeS;
  state.heldS = moment.timeS - sinceS;
  const double mustHoldS = rule.kind == StopRule::Kind::Throttled ? 0 : rule.holdS;
  if (state.heldS + 1e-9 < mustHoldS || state.hasTripped) return false;
  state.hasTripped = true;
  return true;
}

std::vector<RuleTrip> StopRuleWatch::take(const RuleMoment& moment) {
  std::vector<RuleTrip> trips;
  for (size_t i = 0; i < m_states.size(); ++i) {
    if (advance(i, moment)) trips.push_back({m_states[i].rule, sentence(m_states[i])});
  }
  return trips;
}

}  // namespace ash
