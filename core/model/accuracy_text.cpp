// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/accuracy_text.h"

#include <fmt/format.h>

#include "model/text.h"

namespace ash {
namespace {

// "0.5 %" -> 0.5 and "%".
std::optional<std::pair<double, std::string>> numberAndUnit(std::string_view part) {
  part = trimmed(part);
  const size_t end = part.find_first_not_of("0123456789.eE");
  const auto number = parseNumber(trimmed(part.substr(0, end)));
  if (!number || *number < 0) return std::nullopt;
  return std::pair(*number,
                   std::string(end == std::string_view::npos ? std::string_view() : trimmed(part.substr(end))));
}

}  // namespace

Result<StatedAccuracy> parseAccuracy(std::string_view text, Quantity quantity) {
  constexpr std::string_view kPlusMinus = "±";
  const std::string whole(trimmed(text));
  std::string_view rest = whole;
  if (rest.starts_with(kPlusMinus)) rest.remove_prefix(kPlusMinus.size());
  const auto refused = [&] {
    return Error::badInput(
        fmt::format("\"{}\" is no accuracy: write a share of the reading, a fixed part in {}, or both, "
                    "e.g. \"0.5 % + 0.2 {}\"",
                    whole, quantity == Quantity::Other ? "its unit" : unitOf(quantity), unitOf(quantity)));
  };
  StatedAccuracy accuracy;
  for (const std::string_view part : splitText(rest, '+')) {
    const auto given = numberAndUnit(part);
    if (!given) return refused();
    const auto& [number, unit] = *given;
    if (unit == "%") {
      accuracy.percent += number;
      continue;
    }
    const bool isPoints = quantity == Quantity::Percent && (unit == "points" || unit == "% abs");
    const bool isKelvin = quantity == Quantity::Temperature && (unit == "K" || unit == "°C" || unit == "C");
    const auto match = matchUnit(unit);
    if (isPoints || isKelvin || unit.empty() || quantity == Quantity::Other)
      accuracy.plusMinus += number;
    else if (match && match->quantity == quantity)
      accuracy.plusMinus += number * match->factor;
    else
      return refused();
  }
  return accuracy;
}

std::string accuracyText(const StatedAccuracy& accuracy, std::string_view unit) {
  std::string text;
  if (accuracy.percent > 0) text = fmt::format("{:g} %", accuracy.percent);
  if (accuracy.plusMinus > 0) text += fmt::format("{}{:g} {}", text.empty() ? "" : " + ", accuracy.plusMinus, unit);
  return text;
}

}  // namespace ash
