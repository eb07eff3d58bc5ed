// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/told_before.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "system/whole_file.h"

namespace ash::cli {
namespace {

constexpr uintmax_t kLargestB = 64u << 20;

Result<Json> documentIn(const std::string& path) {
  const auto text = readWholeFile(path, kLargestB, "it tells no figures");
  if (!text) return text.error();
  Json document = parseQuietly(*text);
  if (document.is_discarded()) return Error::badInput(fmt::format("{} is no JSON document.", path));
  return document;
}

// With as many digits as it takes to see the two apart.
std::string wordsOf(const Json& value, int digits) {
  if (value.is_null()) return "not told";
  if (value.is_boolean()) return value.get<bool>() ? "yes" : "no";
  if (value.is_number()) return numberText(value.get<double>(), digits);
  return value.is_string() ? value.get<std::string>() : jsonText(value);
}

std::string lineOf(const MovedFigure& one) {
  const bool areNumbers = one.was.is_number() && one.now.is_number();
  const double difference = areNumbers ? one.now.get<double>() - one.was.get<double>() : 0;
  constexpr int kMostDigits = 9, kUsual = 3;
  const int digits = areNumbers ? std::clamp(decimalsFor(std::abs(difference), kUsual), 0, kMostDigits) : kUsual;
  std::string line = fmt::format("  {:<48} {} → {}", fmt::format("{}", fmt::join(one.place, " ")),
                                 wordsOf(one.was, digits), wordsOf(one.now, digits));
  if (areNumbers) line += fmt::format(" ({})", signedText(difference, digits));
  return line + "\n";
}

}  // namespace

Result<FiguresBeside> besideFile(const std::string& path, const Json& now) {
  const auto was = documentIn(path);
  return was ? besideTold(*was, now, path) : was.error();
}

std::string besideText(const FiguresBeside& beside) {
  std::string text = fmt::format("Told earlier by method {}, now by method {}: {} values are equal, {} moved.\n",
                                 beside.wasMethod, beside.nowMethod, beside.same, beside.moved.size());
  for (const MovedFigure& one : beside.moved) text += lineOf(one);
  if (!beside.gained.empty()) text += fmt::format("{} values were not told then.\n", beside.gained.size());
  if (!beside.lost.empty()) {
    text += fmt::format("{} values were told then and are not told here:\n", beside.lost.size());
    for (const MovedFigure& one : beside.lost) text += lineOf(one);
  }
  return text;
}

}  // namespace ash::cli
