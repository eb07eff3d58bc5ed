// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/stop_rule_watch.h"

#include <fmt/format.h>

#include <cmath>

#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kDefaultHoldS = 2;
constexpr double kLostForS = 10;
constexpr double kThrottledBelow = 0.97;
constexpr double kAtLimitK = 1.5;

double valueOf(const RoleValues& values, const std::string& role) {
  const auto found = values.find(role);
  return found == values.end() ? kMissing : found->second;
}

std::string sentence(const RuleState& state) {
  const StopRule& rule = state.rule;
  const std::string name = plainRoleName(rule.role);
  const auto role = findRole(rule.role);
  const std::string unit = role ? std::string(unitOf(role->quantity)) : "";
  switch (rule.kind) {
    case StopRule::Kind::Above:
      return fmt::format("{} was {:.1f} {} for {}; the rule is {:g} {} for {}.", name, state.value, unit,
                         durationWords(state.heldS), rule.threshold, unit, durationWords(rule.holdS));
    case StopRule::Kind::Below:
      return fmt::format("{} was {:.0f} {} for {}; the rule is at least {:g} {} for {}.", name, state.value, unit,
                         durationWords(state.heldS), rule.threshold, unit, durationWords(rule.holdS));
    case StopRule::Kind::Throttled:
      return fmt::format("The clock was held down for {:.0f} % of the last {}; the rule is {:g} %.", state.value,
                         durationWords(rule.holdS), rule.threshold);
    case StopRule::Kind::Lost:
      return fmt::format("{} gave no reading for {}.", name, durationWords(rule.holdS));
  }
  return {};
}

}  // namespace

double RuleState::distance() const {
  if (rule.kind == StopRule::Kind::Above || rule.kind == StopRule::Kind::Throttled) return rule.threshold - value;
  return rule.kind == StopRule::Kind::Below ? value - rule.threshold : kMissing;
}

std::vector<StopRule> defaultStopRules(const std::vector<SourceInfo>& sources, const std::string& watched) {
  std::vector<StopRule> rules;
  for (const SourceInfo& source : sources) {
    for (const Reading& reading : source.readings) {
      const auto critical = reading.limits.find("critical");
      if (!isLoadedTemperature(reading.role) || critical == reading.limits.end()) continue;
      rules.push_back({StopRule::Kind::Above, reading.role, critical->second, kDefaultHoldS, true});
    }
  }
  if (!watched.empty()) rules.push_back({StopRule::Kind::Lost, watched, 0, kLostForS, true});
  return rules;
}

StopRuleWatch::StopRuleWatch(std::vector<StopRule> rules, std::optional<double> throttleLimitC)
    : m_sinceS(rules.size(), kMissing), m_throttleLimitC(throttleLimitC) {
  for (StopRule& rule : rules) m_states.push_back({std::move(rule), kMissing, 0, false});
}

bool StopRuleWatch::holds(const StopRule& rule, double value) const {
  switch (rule.kind) {
    case StopRule::Kind::Above:
      return value > rule.threshold;
    case StopRule::Kind::Below:
      return value < rule.threshold;
    case StopRule::Kind::Throttled:
      return value > rule.threshold;
    case StopRule::Kind::Lost:
      return !std::isfinite(value);
  }
  return false;
}

double StopRuleWatch::throttledPercent(double timeS, double windowS, const RoleValues& values, bool isUnderLoad) {
  const double clock = valueOf(values, "cpu.clock");
  if (!isUnderLoad) m_throttled.clear();
  if (!isUnderLoad || !std::isfinite(clock)) return 0;
  m_bestClockMhz = std::max(m_bestClockMhz, clock);
  const double celsius = valueOf(values, "cpu.temp");
  const bool isHot = !m_throttleLimitC || celsius >= *m_throttleLimitC - kAtLimitK;
  if (m_throttled.empty() || m_throttled.back().first < timeS) {
    m_throttled.emplace_back(timeS, clock < kThrottledBelow * m_bestClockMhz && isHot);
  }
  size_t inWindow = 0, held = 0;
  for (const auto& [t, wasThrottled] : m_throttled) {
    if (t <= timeS - windowS) continue;
    ++inWindow;
    held += wasThrottled;
  }
  const bool isFull = !m_throttled.empty() && m_throttled.front().first <= timeS - windowS;
  while (m_throttled.size() > 100'000) m_throttled.pop_front();
  return isFull && inWindow > 0 ? 100.0 * static_cast<double>(held) / static_cast<double>(inWindow) : 0;
}

std::optional<std::string> StopRuleWatch::take(double timeS, const RoleValues& values, bool isUnderLoad) {
  std::optional<std::string> tripped;
  for (size_t i = 0; i < m_states.size(); ++i) {
    RuleState& state = m_states[i];
    const StopRule& rule = state.rule;
    const bool isShare = rule.kind == StopRule::Kind::Throttled;
    state.value = isShare ? throttledPercent(timeS, rule.holdS, values, isUnderLoad) : valueOf(values, rule.role);
    // A slow fan or a lost reading matters under load; at rest a fan may well stand still.
    const bool isArmed = rule.kind == StopRule::Kind::Above || isUnderLoad;
    if (!isArmed || !holds(rule, state.value)) {
      m_sinceS[i] = kMissing;
      state.heldS = 0;
      continue;
    }
    if (!std::isfinite(m_sinceS[i])) m_sinceS[i] = timeS;
    state.heldS = timeS - m_sinceS[i];
    const double mustHoldS = isShare ? 0 : rule.holdS;
    if (state.heldS + 1e-9 < mustHoldS || state.hasTripped) continue;
    state.hasTripped = true;
    if (!tripped) tripped = sentence(state);
  }
  return tripped;
}

}  // namespace ash
