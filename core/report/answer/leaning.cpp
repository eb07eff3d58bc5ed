// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/leaning.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "model/number_text.h"

namespace ash {
namespace {

constexpr double kSure = 0.975, kLikely = 0.8;
constexpr std::array<std::string_view, 5> kWords = {"Yes", "Probably", "Probably not", "No", "Cannot tell"};

}  // namespace

Leaning leaningOf(double chance) {
  if (!std::isfinite(chance)) return Leaning::CannotTell;
  if (chance >= kSure) return Leaning::Yes;
  if (chance >= kLikely) return Leaning::Probably;
  if (chance <= 1 - kSure) return Leaning::No;
  return chance <= 1 - kLikely ? Leaning::ProbablyNot : Leaning::CannotTell;
}

std::string_view wordsOf(Leaning leaning) { return kWords.at(static_cast<size_t>(leaning)); }

std::string chanceWords(double chance) {
  constexpr double kNearlyAll = 0.999;
  if (chance > kNearlyAll) return "over 99.9\u202F%";
  if (chance < 1 - kNearlyAll) return "under 0.1\u202F%";
  const bool isNearAnEnd = chance > 0.99 || chance < 0.01;
  return withUnit(100 * chance, isNearAnEnd ? 1 : 0, "%");
}

std::string joinedNames(const std::vector<std::string>& names) {
  // Names with commas of their own would run into each other.
  const bool areQuoted = names.size() > 1 && std::any_of(names.begin(), names.end(), [](const std::string& name) {
                           return name.find(',') != std::string::npos;
                         });
  std::string text;
  for (size_t i = 0; i < names.size(); ++i) {
    const bool isLast = i + 1 == names.size();
    text += i == 0 ? "" : isLast ? " and " : ", ";
    text += areQuoted ? "“" + names[i] + "”" : names[i];
  }
  return text;
}

}  // namespace ash
