// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/stop_rule.h"

#include <fmt/format.h>

#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

Error wrongRule(std::string_view text, std::string_view why) {
  return Error::badInput(
      fmt::format("Stop rule \"{}\": {}. Write it like \"cpu.temp > 98 for 3s\", \"fan.cpu < 300 for "
                  "10s\", \"throttled > 20% of 60s\" or \"lost cpu.temp for 10s\".",
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
  if (!seconds || *seconds <= 0) return wrongRule(text, "the time needs a number and a unit (s, min, h)");
  return StopRule{StopRule::Kind::Throttled, "", *percent, *seconds};
}

}  // namespace

Result<StopRule> parseStopRule(std::string_view whole) {
  const std::string_view text = trimmed(whole);
  if (text.starts_with("throttled")) return parseThrottled(text, trimmed(text.substr(9)));
  std::string_view condition, hold;
  if (!splitAtWord(text, "for", condition, hold)) return wrongRule(text, "it does not say for how long ('for 3s')");
  const auto seconds = parseDurationS(hold);
  if (!seconds) return wrongRule(text, "its time needs a number and a unit (s, min, h)");
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
  if (!findRole(rule.role)) return wrongRule(text, fmt::format("'{}' is no role of a reading", rule.role));
  return rule;
}

std::string stopRuleText(const StopRule& rule) {
  switch (rule.kind) {
    case StopRule::Kind::Above:
      return fmt::format("{} > {:g} for {:g}s", rule.role, rule.threshold, rule.holdS);
    case StopRule::Kind::Below:
      return fmt::format("{} < {:g} for {:g}s", rule.role, rule.threshold, rule.holdS);
    case StopRule::Kind::Throttled:
      return fmt::format("throttled > {:g}% of {:g}s", rule.threshold, rule.holdS);
    case StopRule::Kind::Lost:
      return fmt::format("lost {} for {:g}s", rule.role, rule.holdS);
  }
  return {};
}

}  // namespace ash
