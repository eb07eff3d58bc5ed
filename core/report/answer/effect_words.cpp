// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/effect_words.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"

namespace ash {
namespace {

constexpr std::array kParts = {"half",      "a third", "a quarter", "a fifth",     "a sixth",  "a seventh",
                               "an eighth", "a ninth", "a tenth",   "an eleventh", "a twelfth"};
constexpr double kPartWithin = 0.04;
constexpr size_t kMostLevels = 4;  // more are told by the least and the greatest

// Three figures say enough; fewer where the interval is wider than the last of them.
std::string timesText(double ratio, double low, double high) {
  int digits = ratio < 10 ? 2 : ratio < 100 ? 1 : 0;
  const double half = (high - low) / 2;
  while (digits > 0 && half > 0.5 * std::pow(10, 1 - digits)) --digits;
  return numberText(ratio, digits) + "\u202F×";
}

bool isRatioShown(const ComparisonRow& row, const Figure& metric) {
  const auto found = row.metrics.find(metric);
  return found != row.metrics.end() &&
         (found->second.verdict == Verdict::Better || found->second.verdict == Verdict::Worse) &&
         std::isfinite(found->second.ratio);
}

AnswerPart ratioPart(const ComparisonRow& row, const Figure& metric) {
  return {ratioWords(row.metrics.at(metric), metric), &row, metric, true};
}

// "the fan duty", or "the fan duty and the panel".
std::string namesText(const Json& others) {
  std::string text;
  for (const auto& [field, value] : others.items()) {
    text += (text.empty() ? "the " : " and the ") + lowerFirst(fieldTitle(field));
  }
  return text;
}

using Within = FactorEffect::Within;

const MetricRow* figureOf(const Within& within, const Figure& metric) {
  const auto found = within.row.metrics.find(metric);
  const bool isThere = found != within.row.metrics.end() && std::isfinite(found->second.value);
  return isThere && found->second.verdict != Verdict::None ? &found->second : nullptr;
}

/// Those worth telling one by one: all of a few, else the least and the greatest.
std::vector<const Within*> toldOf(const FactorEffect& effect, const Figure& metric) {
  std::vector<const Within*> told;
  for (const Within& within : effect.within) {
    if (figureOf(within, metric) != nullptr) told.push_back(&within);
  }
  if (told.size() <= kMostLevels) return told;
  std::erase_if(told, [&](const Within* one) { return std::isnan(figureOf(*one, metric)->difference); });
  if (told.size() < 2) return told;
  const auto [least, greatest] = std::minmax_element(told.begin(), told.end(), [&](const Within* a, const Within* b) {
    return figureOf(*a, metric)->difference < figureOf(*b, metric)->difference;
  });
  return {*least, *greatest};
}

Sentence factorSentence(const FactorEffect& effect, const Figure& metric) {
  const std::vector<const Within*> told = toldOf(effect, metric);
  if (told.empty()) return {};
  Sentence sentence = {
      {fmt::format("{} {} instead of {}: ", fieldTitle(effect.factor), fieldText(effect.factor, effect.level),
                   fieldText(effect.factor, effect.reference))}};
  const bool isRange = told.size() == 2 && effect.within.size() > kMostLevels;
  for (size_t i = 0; i < told.size(); ++i) {
    if (i > 0) sentence.push_back({isRange ? " to " : ", "});
    sentence.push_back({differenceText(*figureOf(*told[i], metric), metric), &told[i]->row, metric, true});
    sentence.push_back({" with " + levelsText(told[i]->others)});
  }
  const auto mean = effect.mean.find(metric);
  if (mean != effect.mean.end()) {
    const MetricRow& figure = mean->second;
    const int digits = digitsOfDifference(figure, metric);
    const std::string unit = metric.differenceUnit();
    sentence.push_back({fmt::format("; {} on average ({} to {})", differenceText(figure, metric),
                                    signedText(shownValue(metric, figure.differenceLow), digits),
                                    withUnit(shownValue(metric, figure.differenceHigh), digits, unit))});
  }
  if (effect.dependsOnOthers.contains(metric))
    sentence.push_back({"; how much depends on " + namesText(told.front()->others)});
  sentence.push_back({"."});
  return sentence;
}

}  // namespace

std::string levelsText(const Json& others) {
  std::string text;
  for (const auto& [field, value] : others.items())
    text += (text.empty() ? "" : " and ") + lowerFirst(fieldTitle(field)) + " " + fieldText(field, value);
  return text;
}

std::string fractionWords(double share) {
  const auto parts = static_cast<int>(std::lround(1 / share));
  const bool isPart = parts >= 2 && parts <= 12 && std::abs(share * parts - 1) < kPartWithin;
  return isPart ? std::string(kParts[static_cast<size_t>(parts) - 2]) : numberText(100 * share, 0) + "\u202F%";
}

std::string ratioWords(const MetricRow& figure, const Figure& metric) {
  const double ratio = figure.ratio;
  if (!(ratio > 0) || !std::isfinite(ratio)) return "";
  const std::string times = timesText(ratio, figure.ratioLow, figure.ratioHigh);
  if (metric.id() == FigureId::TaskTime && ratio < 1)
    return timesText(1 / ratio, 1 / figure.ratioHigh, 1 / figure.ratioLow) + " faster";
  if (metric.id() == FigureId::Runtime && ratio >= 1) return times + " as long";
  const std::string_view own = metric.kind().words.ratio;
  const std::string what = own.empty() ? lowerFirst(metric.title()) : std::string(own);
  return ratio >= 1 ? times + " the " + what : fractionWords(ratio) + " of the " + what;
}

std::vector<Sentence> ratioSentences(const Comparison& comparison) {
  std::vector<Sentence> sentences;
  const ComparisonRow* reference = referenceRow(comparison);
  for (const ComparisonRow& row : comparison.rows) {
    if (&row == reference || reference == nullptr) continue;
    Sentence sentence;
    if (isRatioShown(row, FigureId::TaskTime)) {
      sentence = {{row.setup + " does the task in "}, ratioPart(row, FigureId::TaskTime)};
      if (row.metrics.at(FigureId::TaskTime).ratio < 1) sentence.front().text = row.setup + " does the task ";
      if (isRatioShown(row, FigureId::Energy)) {
        sentence.push_back({", with "});
        sentence.push_back(ratioPart(row, FigureId::Energy));
      }
    } else if (isRatioShown(row, FigureId::Runtime)) {
      sentence = {{row.setup + " runs on battery for "}, ratioPart(row, FigureId::Runtime)};
      if (row.metrics.at(FigureId::Runtime).ratio >= 1) sentence.front().text = row.setup + " runs on battery ";
    }
    if (sentence.empty()) continue;
    sentence.push_back({fmt::format(", against {}.", reference->setup)});
    sentences.push_back(std::move(sentence));
  }
  return sentences;
}

// "CPU power 21.3 W instead of 88.0 W (0.24 ×)". Power of a chip, of a board and at the wall are never
// set against one another: each stands beside its own.
void addPower(Sentence& sentence, const ComparisonRow& row, const ComparisonRow& reference, const Figure& metric) {
  const auto own = row.metrics.find(metric), other = reference.metrics.find(metric);
  if (own == row.metrics.end() || other == reference.metrics.end()) return;
  if (!std::isfinite(own->second.value) || !std::isfinite(other->second.value)) return;
  sentence.push_back({(sentence.size() == 1 ? " " : "; ") + lowerFirst(metric.title()) + " "});
  sentence.push_back({valueText(row, metric), &row, metric, false});
  sentence.push_back({" instead of "});
  sentence.push_back({valueText(reference, metric), &reference, metric, false});
  const bool isRatio = own->second.ratio > 0 && std::isfinite(own->second.ratio);
  if (isRatio)
    sentence.push_back({" (" + timesText(own->second.ratio, own->second.ratioLow, own->second.ratioHigh) + ")"});
}

std::vector<Sentence> waySentences(const Comparison& comparison) {
  std::vector<Sentence> sentences;
  const ComparisonRow* reference = referenceRow(comparison);
  for (const ComparisonRow& row : comparison.rows) {
    if (reference == nullptr || &row == reference || row.way.empty()) continue;
    sentences.push_back({{fmt::format("{} carries {} out by {}, {} by {}.", row.setup, row.load, row.way,
                                      reference->setup, row.referenceWay)}});
    Sentence power = {{"Mean power of " + row.setup + ":"}};
    for (const auto& [metric, figure] : row.metrics) {
      if (metric.id() == FigureId::Power || metric.id() == FigureId::WallPower)
        addPower(power, row, *reference, metric);
    }
    if (power.size() == 1) continue;
    power.push_back({"."});
    sentences.push_back(std::move(power));
  }
  return sentences;
}

std::vector<Sentence> factorSentences(const Comparison& comparison, const Figure& metric) {
  std::vector<Sentence> sentences;
  for (const FactorEffect& effect : comparison.factors) {
    if (Sentence sentence = factorSentence(effect, metric); !sentence.empty()) sentences.push_back(std::move(sentence));
  }
  return sentences;
}

}  // namespace ash
