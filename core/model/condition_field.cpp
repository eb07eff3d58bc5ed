// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/condition_field.h"

#include <fmt/format.h>

#include <array>
#include <cctype>
#include <cmath>

#include "model/knob_condition.h"
#include "model/number_text.h"
#include "model/text.h"
#include "model/unit.h"

namespace ash {
namespace {

struct UnitSuffix {
  std::string_view suffix, unit;
};
constexpr std::array kSuffixes = {UnitSuffix{"_w", "W"},       UnitSuffix{"_c", "°C"},    UnitSuffix{"_k", "K"},
                                  UnitSuffix{"_mhz", "MHz"},   UnitSuffix{"_g", "g"},     UnitSuffix{"_cm", "cm"},
                                  UnitSuffix{"_mm", "mm"},     UnitSuffix{"_min", "min"}, UnitSuffix{"_rpm", "RPM"},
                                  UnitSuffix{"_percent", "%"}, UnitSuffix{"_duty", "%"},  UnitSuffix{"_v", "V"},
                                  UnitSuffix{"_dba", "dBA"}};

// "_duty" is a unit and a part of the name: it stays in the title.
bool staysInTitle(std::string_view suffix) { return suffix == "_duty"; }

const UnitSuffix* suffixOf(const std::string& field) {
  for (const UnitSuffix& suffix : kSuffixes) {
    if (field.size() > suffix.suffix.size() && field.ends_with(suffix.suffix)) return &suffix;
  }
  return nullptr;
}

int digitsFor(double value) {
  for (int digits = 0; digits < 3; ++digits) {
    const double scale = std::pow(10, digits);
    if (std::abs(value * scale - std::round(value * scale)) < 1e-6 * scale) return digits;
  }
  return 3;
}

}  // namespace

std::string fieldTitle(const std::string& field) {
  if (isKnobId(field)) return field;
  std::string title = isOwnKnob(field) ? ownKnob(field).name : field;
  const UnitSuffix* suffix = suffixOf(field);
  if (suffix != nullptr && !staysInTitle(suffix->suffix)) title.resize(title.size() - suffix->suffix.size());
  for (char& c : title) c = c == '_' ? ' ' : c;
  if (!title.empty()) title[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(title[0])));
  return title;
}

std::string fieldUnit(const std::string& field) {
  if (isKnobId(field)) return unitOfKnob(field);
  if (isOwnKnob(field)) return ownKnob(field).unit;
  const UnitSuffix* suffix = suffixOf(field);
  return suffix == nullptr ? std::string() : std::string(suffix->unit);
}

std::string fieldText(const std::string& field, const Json& value) {
  if (value.is_null()) return "–";
  if (value.is_string()) return value.get<std::string>();
  if (!value.is_number()) return jsonText(value);
  return withUnit(value.get<double>(), digitsFor(value.get<double>()), fieldUnit(field));
}

std::string bareText(const Json& value) {
  if (value.is_string()) return value.get<std::string>();
  constexpr double kWholeUpTo = 1e15;
  const double number = value.is_number() ? value.get<double>() : kWholeUpTo;
  const bool isWhole = number == std::floor(number) && std::abs(number) < kWholeUpTo;
  return isWhole ? fmt::format("{:.0f}", number) : jsonText(value);
}

std::string toleranceText(const std::string& field, const Json& target, double tolerance) {
  if (!std::isfinite(tolerance)) return target.is_number() ? "exact" : "same";
  const std::string unit = differenceUnit(fieldUnit(field));
  return "± " + withUnit(tolerance, digitsFor(tolerance), unit);
}

Json parseFieldValue(const std::string& field, const std::string& typed) {
  std::string text(trimmed(typed));
  const std::string words = text;
  if (const std::string unit = fieldUnit(field); !unit.empty() && text.ends_with(unit))
    text = std::string(trimmed(text.substr(0, text.size() - unit.size())));
  for (char& c : text) c = c == ',' ? '.' : c;
  if (const auto number = parseNumber(text)) return *number;
  return words.empty() ? Json() : Json(words);
}

std::string fieldCode(const std::string& title) {
  const std::string_view name = trimmed(title);
  if (isKnobId(name) || isOwnKnob(name)) return std::string(name);
  std::string code;
  for (const char c : trimmed(title)) {
    const auto letter = static_cast<unsigned char>(c);
    if (std::isalnum(letter) != 0)
      code += static_cast<char>(std::tolower(letter));
    else if (!code.empty() && code.back() != '_')
      code += '_';
  }
  while (code.ends_with('_')) code.pop_back();
  return code;
}

}  // namespace ash
