// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/scpi_answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "model/pattern.h"
#include "model/reading.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kNotANumber = 9.91e37, kInfinity = 9.9e37;
constexpr size_t kShown = 40;

struct Suffix {
  std::string_view text;
  UnitMatch unit;
};
// IEEE 488.2 and SCPI-1999 suffixes, and those that meters of the trade answer with.
constexpr std::array kSuffixes = {Suffix{"W", {Quantity::Power, 1, 0}},
                                  Suffix{"V", {Quantity::Voltage, 1, 0}},
                                  Suffix{"A", {Quantity::Current, 1, 0}},
                                  Suffix{"J", {Quantity::Energy, 1, 0}},
                                  Suffix{"WH", {Quantity::Energy, 3600, 0}},
                                  Suffix{"HZ", {Quantity::Clock, 1e-6, 0}},
                                  Suffix{"CEL", {Quantity::Temperature, 1, 0}},
                                  Suffix{"K", {Quantity::Temperature, 1, -273.15}},
                                  Suffix{"FAR", {Quantity::Temperature, 5.0 / 9, -160.0 / 9}},
                                  Suffix{"S", {Quantity::Duration, 1, 0}},
                                  Suffix{"DBA", {Quantity::Noise, 1, 0}},
                                  Suffix{"PCT", {Quantity::Percent, 1, 0}},
                                  Suffix{"RPM", {Quantity::FanSpeed, 1, 0}},
                                  Suffix{"VA", {Quantity::Other, 1, 0}}};

struct Multiplier {
  std::string_view text;
  double factor;
};
constexpr std::array kMultipliers = {Multiplier{"EX", 1e18}, Multiplier{"PE", 1e15}, Multiplier{"T", 1e12},
                                     Multiplier{"G", 1e9},   Multiplier{"MA", 1e6},  Multiplier{"K", 1e3},
                                     Multiplier{"M", 1e-3},  Multiplier{"U", 1e-6},  Multiplier{"N", 1e-9},
                                     Multiplier{"P", 1e-12}, Multiplier{"F", 1e-15}};

const Suffix* suffixOf(std::string_view text) {
  const auto found =
      std::find_if(kSuffixes.begin(), kSuffixes.end(), [&](const Suffix& one) { return one.text == text; });
  return found == kSuffixes.end() ? nullptr : &*found;
}

std::string upper(std::string_view text) {
  std::string big(text);
  std::transform(big.begin(), big.end(), big.begin(),
                 [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  return big;
}

std::string shown(std::string_view answer) { return withoutControls(asUtf8(answer.substr(0, kShown))); }

}  // namespace

std::optional<UnitMatch> scpiUnit(std::string_view text) {
  const std::string suffix = upper(text);
  if (suffix == "MHZ") return UnitMatch{Quantity::Clock, 1, 0};  // the standard's own exception
  if (const Suffix* plain = suffixOf(suffix)) return plain->unit;
  for (const Multiplier& multiplier : kMultipliers) {
    if (!suffix.starts_with(multiplier.text)) continue;
    const Suffix* unit = suffixOf(std::string_view(suffix).substr(multiplier.text.size()));
    if (unit == nullptr || unit->unit.offset != 0) continue;
    return UnitMatch{unit->unit.quantity, unit->unit.factor * multiplier.factor, 0};
  }
  return matchUnit(trimmed(text));
}

Result<ScpiNumber> parseScpiNumber(std::string_view answer) {
  static const Pattern kNumber =
      Pattern::own(R"(\s*([+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:\s*[eE]\s*[+-]?[0-9]+)?)\s*([^0-9\s,;][^\s,;]*)?\s*)");
  const auto parts = kNumber.matchWhole(answer);
  if (!parts) return Error::badInput(fmt::format("\"{}\" is not one number", shown(answer)));
  std::string digits((*parts)[1]);
  std::erase_if(digits, [](unsigned char c) { return std::isspace(c) != 0; });
  if (digits.front() == '+') digits.erase(0, 1);
  const auto value = parseNumber(digits);
  if (!value) return Error::badInput(fmt::format("\"{}\" is no number that can be kept", shown(answer)));
  ScpiNumber number{*value, {}, std::string((*parts)[2])};
  const double size = std::abs(*value);
  if (std::abs(size / kNotANumber - 1) < 1e-6 || std::abs(size / kInfinity - 1) < 1e-6) number.value = kMissing;
  if (number.suffix.empty()) return number;
  number.unit = scpiUnit(number.suffix);
  if (!number.unit) return Error::badInput(fmt::format("\"{}\" has a unit that is not known", shown(answer)));
  return number;
}

}  // namespace ash
