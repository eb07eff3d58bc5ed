// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/number_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <string_view>

namespace ash {
namespace {
constexpr const char* kMinus = "\u2212";
constexpr const char* kThinSpace = "\u202F";  // narrow and not broken at the end of a line
}  // namespace

std::string numberText(double value, int digits) {
  if (!std::isfinite(value)) return "–";
  const double place = std::pow(10, -digits);
  const double rounded = digits < 0 ? std::round(value / place) * place : value;
  std::string text = fmt::format("{:.{}f}", std::abs(rounded), std::max(digits, 0));
  const bool isZero = text.find_first_not_of("0.") == std::string::npos;
  const size_t point = text.find('.');
  const size_t whole = point == std::string::npos ? text.size() : point;
  if (whole > 4) {
    for (size_t at = whole; at > 3; at -= 3) text.insert(at - 3, at - 3 > 0 ? kThinSpace : "");
  }
  return value < 0 && !isZero ? kMinus + text : text;
}

std::string withUnit(double value, int digits, const std::string& unit) {
  const std::string number = numberText(value, digits);
  return unit.empty() || !std::isfinite(value) ? number : number + kThinSpace + unit;
}

std::string signedText(double value, int digits) {
  const std::string text = numberText(value, digits);
  const bool isZero = text.find_first_not_of("0.") == std::string::npos;
  return value > 0 && !isZero ? "+" + text : text;
}

std::string bytesWords(double bytes) {
  constexpr const char* kUnits[] = {"B", "kB", "MB", "GB", "TB", "PB"};
  size_t unit = 0;
  for (; std::abs(bytes) >= 999.5 && unit + 1 < std::size(kUnits); ++unit) bytes /= 1000;
  const double size = std::abs(bytes);
  const int digits = unit == 0 || size >= 99.95 || std::abs(bytes - std::round(bytes)) < 0.05 ? 0 : 1;
  return withUnit(bytes, digits, kUnits[unit]);
}

int usualDigits(const std::string& unit) {
  constexpr std::array<std::pair<std::string_view, int>, 8> kDigits = {
      {{"MHz", 0}, {"RPM", 0}, {"Hz", 0}, {"J", 0}, {"K/W", 3}, {"V", 3}, {"1/J", 3}, {"1/W", 3}}};
  const auto found = std::find_if(kDigits.begin(), kDigits.end(), [&](const auto& row) { return row.first == unit; });
  return found == kDigits.end() ? 1 : found->second;
}

int decimalsFor(double uncertainty, int otherwise) {
  constexpr int kMost = 9;
  constexpr double kOneDigitFrom = 3;  // of its first digit on: 0.073 is known as well as 0.07
  if (!(uncertainty > 0) || !std::isfinite(uncertainty)) return otherwise;
  const int place = static_cast<int>(std::floor(std::log10(uncertainty)));
  const bool keepsTwo = uncertainty / std::pow(10, place) < kOneDigitFrom;
  return std::clamp((keepsTwo ? 1 : 0) - place, -kMost, kMost);
}

std::string roundedText(double value, int decimals, bool withSign) {
  if (!std::isfinite(value)) return "–";
  const double place = std::pow(10, -decimals);
  double rounded = decimals < 0 ? std::round(value / place) * place : value;
  // No minus before a zero.
  if (std::abs(rounded) < place / 2) rounded = 0;
  return withSign ? fmt::format("{:+.{}f}", rounded, std::max(decimals, 0))
                  : fmt::format("{:.{}f}", rounded, std::max(decimals, 0));
}

}  // namespace ash
