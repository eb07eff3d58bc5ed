// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/stop_rule.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <utility>

#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

Error wrongRule(std::string_view text, std::string_view why) {
  return Error::badInput(
      fmt::format("Stop rule \"{}\": {}. Write it like \"cpu.temp > 98 for 3s\", \"fan.cpu < 300 for "
                  "10s\", \"throttled > 20% of 60s\", \"lost cpu.temp for 10s\", \"wrong result\" or \"disk < 50MB\", "
                  "and after it, where it is not to stop the run, \"then note\", \"then warn\" or \"then stop load\".",
                  text, why));
}

// Splits "A for B" at the last occurrence of the word; false when it is missing.
bool splitAtWord(std::string_view text, std::string_view word, std::string_view& left, std::string_view& right) {
  const std::string spaced = " " + std::string(word) + " ";
  const size_t at = text.rfind(spaced);
  if (at == std::string_view::npos) return false;
  left = trimmed(text.substr(0, at));
  right = trimmed(text.substr(at + spaced.size()));
  return true;
}

constexpr double kLongestHoldS = 86400;
constexpr std::array<std::pair<StopRule::Action, std::string_view>, 4> kActions = {{
    {StopRule::Action::Note, "note"},
    {StopRule::Action::Warn, "warn"},
    {StopRule::Action::StopLoad, "stop load"},
    {StopRule::Action::StopRun, "stop run"},
}};

Result<StopRule> parseThrottled(std::string_view text, std::string_view rest) {
  std::string_view share, window;
  if (!splitAtWord(rest, "of", share, window)) return wrongRule(text, "a throttled share needs 'of' and a time");
  share = trimmed(share);
  if (!share.starts_with('>')) return wrongRule(text, "a throttled share needs '>'");
  share = trimmed(share.substr(1));
  if (!share.ends_with('%')) return wrongRule(text, "a throttled share is given in %");
  const auto percent = parseNumber(share.substr(0, share.size() - 1));
  const auto seconds = parseDurationS(window);
  if (!percent || *percent < 0 || *percent >= 100) return wrongRule(text, "the share must be from 0 to below 100 %");
  if (!seconds || *seconds <= 0 || *seconds > kLongestHoldS)
    return wrongRule(text, "the time needs a number and a unit (s, min, h), at most 24 h");
  return StopRule{StopRule::Kind::Throttled, "", *percent, *seconds};
}

// "< 50MB": MB and GB are powers of ten, as drives are sold.
Result<StopRule> parseDisk(std::string_view text, std::string_view rest) {
  if (!rest.starts_with('<')) return wrongRule(text, "the space on the disk needs '<'");
  rest = trimmed(rest.substr(1));
  double scale = 0;
  if (rest.ends_with("MB")) scale = 1e6;
  if (rest.ends_with("GB")) scale = 1e9;
  if (scale == 0) return wrongRule(text, "the space on the disk is given in MB or GB");
  const auto amount = parseNumber(trimmed(rest.substr(0, rest.size() - 2)));
  if (!amount || *amount <= 0) return wrongRule(text, "the space on the disk must be above zero");
  return StopRule{StopRule::Kind::Disk, "", *amount * scale, 0};
}

Result<StopRule> parseReading(std::string_view text, std::string_view rest) {
  std::string_view condition, hold;
  if (!splitAtWord(rest, "for", condition, hold)) return wrongRule(text, "it does not say for how long ('for 3s')");
  const auto seconds = parseDurationS(hold);
  if (!seconds || *seconds > kLongestHoldS)
    return wrongRule(text, "its time needs a number and a unit (s, min, h), at most 24 h");
  StopRule rule;
  rule.holdS = *seconds;
  if (condition.starts_with("lost ")) {
    rule.kind = StopRule::Kind::Lost;
    rule.role = trimmed(condition.substr(5));
  } else {
    const size_t sign = condition.find_first_of("<>");
    if (sign == std::string_view::npos) return wrongRule(text, "it has neither '>' nor '<'");
    const auto threshold = parseNumber(condition.substr(sign + 1));
    if (!threshold) return wrongRule(text, "its limit is no number");
    rule.kind = condition[sign] == '>' ? StopRule::Kind::Above : StopRule::Kind::Below;
    rule.role = trimmed(condition.substr(0, sign));
    rule.threshold = *threshold;
  }
  if (!rule.role.isKnown()) return wrongRule(text, fmt::format("'{}' is no role of a reading", rule.role.text()));
  return rule;
}

Result<StopRule> parseCondition(std::string_view text, std::string_view condition) {
  if (condition == "wrong result") return StopRule{StopRule::Kind::WrongResult, "", 0, 0};
  if (condition.starts_with("throttled")) return parseThrottled(text, trimmed(condition.substr(9)));
  if (condition.starts_with("disk")) return parseDisk(text, trimmed(condition.substr(4)));
  return parseReading(text, condition);
}

std::string conditionText(const StopRule& rule) {
  switch (rule.kind) {
    case StopRule::Kind::Above:
      return fmt::format("{} > {} for {}s", rule.role.text(), rule.threshold, rule.holdS);
    case StopRule::Kind::Below:
      return fmt::format("{} < {} for {}s", rule.role.text(), rule.threshold, rule.holdS);
    case StopRule::Kind::Throttled:
      return fmt::format("throttled > {}% of {}s", rule.threshold, rule.holdS);
    case StopRule::Kind::Lost:
      return fmt::format("lost {} for {}s", rule.role.text(), rule.holdS);
    case StopRule::Kind::WrongResult:
      return "wrong result";
    case StopRule::Kind::Disk:
      return fmt::format("disk < {}MB", rule.threshold / 1e6);
  }
  return {};
}

}  // namespace

std::string_view stopActionText(StopRule::Action action) {
  for (const auto& [value, words] : kActions) {
    if (value == action) return words;
  }
  return "stop run";
}

Result<StopRule> parseStopRule(std::string_view whole) {
  const std::string_view text = trimmed(whole);
  std::string_view condition = text, words;
  if (!splitAtWord(text, "then", condition, words)) return parseCondition(text, text);
  for (const auto& [action, name] : kActions) {
    if (words != name) continue;
    auto rule = parseCondition(text, condition);
    if (rule) rule->action = action;
    return rule;
  }
  return wrongRule(text, fmt::format("'{}' is nothing that a rule can do", words));
}

std::string stopRuleText(const StopRule& rule) {
  const std::string condition = conditionText(rule);
  if (rule.action == StopRule::Action::StopRun) return condition;
  return fmt::format("{} then {}", condition, stopActionText(rule.action));
}

}  // namespace ash
