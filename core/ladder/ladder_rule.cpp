// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/ladder_rule.h"

#include <fmt/format.h>

#include "model/text.h"

namespace ash {
namespace {

Error wrongRule(std::string_view text, std::string_view why) {
  return Error::badInput(
      fmt::format("Rule \"{}\": {}; write it like \"work.rate < 98% of first\".", withoutControls(text), why));
}

Result<LadderRule> parseOfFirst(std::string_view text, std::string_view condition) {
  const size_t sign = condition.find_first_of("<>");
  if (sign == std::string_view::npos) return wrongRule(text, "it has neither '>' nor '<'");
  std::string_view share = trimmed(condition.substr(sign + 1));
  if (!share.ends_with('%')) return wrongRule(text, "the share of the first is given in %");
  share.remove_suffix(1);
  const auto percent = parseNumber(trimmed(share));
  if (!percent || !(*percent > 0) || *percent > 1e6) return wrongRule(text, "its share is no number above 0");
  OfFirst rule;
  rule.role = trimmed(condition.substr(0, sign));
  rule.isBelow = condition[sign] == '<';
  rule.percent = *percent;
  if (!rule.role.isKnown())
    return wrongRule(text, fmt::format("'{}' is no role of a reading", withoutControls(rule.role.text())));
  return LadderRule(rule);
}

}  // namespace

Result<LadderRule> parseLadderRule(std::string_view whole) {
  const std::string_view text = trimmed(whole);
  constexpr std::string_view kOfFirst = " of first";
  if (text.ends_with(kOfFirst)) return parseOfFirst(text, text.substr(0, text.size() - kOfFirst.size()));
  auto rule = parseStopRule(text);
  if (!rule) return rule.error();
  // A step that does not hold is over, whatever else a rule could do.
  rule->action = StopRule::Action::StopRun;
  return LadderRule(*rule);
}

std::string ladderRuleText(const LadderRule& rule) {
  if (const auto* stop = std::get_if<StopRule>(&rule)) return stopRuleText(*stop);
  const auto& first = std::get<OfFirst>(rule);
  return fmt::format("{} {} {}% of first", first.role.text(), first.isBelow ? '<' : '>', first.percent);
}

}  // namespace ash
