// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/claim_answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "report/answer/leaning.h"
#include "report/answer/row_figure.h"
#include "report/answer/stated.h"

namespace ash {
namespace {

Believed measuredOf(const StatedFigure& one, const MetricRow& figure) {
  if (one.isDifference) return {figure.difference, figure.differenceLow, figure.differenceHigh};
  return believed(figure);
}

// That the true figure lies within what was said; a plain value is given the plan's margin, where it is a temperature.
double chanceWithin(const StudyReport& report, const StatedFigure& one, const MetricRow& figure) {
  const double slack = one.low == one.high && Figure(one.figure).isTemperature() ? report.plan.marginK.value_or(0) : 0;
  const Believed measured = measuredOf(one, figure);
  double chance = chanceAbove(measured, one.low - slack) - chanceAbove(measured, one.high + slack);
  // A bound lies open at one side.
  if (figure.bound == Bound::AtLeast && measured.value <= one.high + slack) chance = kMissing;
  if (figure.bound == Bound::AtMost && measured.value >= one.low - slack) chance = kMissing;
  return chance;
}

std::string said(const StatedFigure& one) {
  return fmt::format("{}, {}, {}", one.setup, statedText(one), statedBy(one));
}

bool isOutside(const StatedOutcome& outcome) {
  return outcome.kind == StatedOutcome::Kind::Higher || outcome.kind == StatedOutcome::Kind::Lower;
}

// A single value cannot be met to the last digit: it is as good as told when an interval that is narrow meets it.
bool isMetAsPoint(const StudyReport& report, const StatedFigure& one, const MetricRow& figure, double chance) {
  constexpr double kNarrow = 0.05;
  if (one.low != one.high || !(chance <= 0.5)) return false;
  const Believed measured = measuredOf(one, figure);
  const double slack = Figure(one.figure).isTemperature() ? report.plan.marginK.value_or(0) : 0;
  return (measured.high - measured.low) / 2 <= std::max(slack, kNarrow * std::abs(one.low));
}

Sentence sentenceOf(const StudyReport& report, const StatedOutcome& outcome) {
  const StatedFigure& one = *outcome.stated;
  if (outcome.row == nullptr || outcome.kind == StatedOutcome::Kind::NotKnown)
    return {{fmt::format("Cannot tell ({}): the setup has no such figure yet. Run it.", said(one))}};
  const Figure metric(one.figure);
  const MetricRow& figure = *figureIn(*outcome.row, metric);
  if (one.isDifference && figure.verdict == Verdict::NotComparable)
    return {{fmt::format("Cannot tell ({}): {}", said(one), figure.reason)}};
  const double chance = chanceWithin(report, one, figure);
  const bool isPoint = isMetAsPoint(report, one, figure, chance);
  const Leaning leaning = isOutside(outcome) ? Leaning::No : isPoint ? Leaning::Probably : leaningOf(chance);
  Sentence sentence = {{fmt::format("{} ({}): measured ", wordsOf(leaning), said(one))}};
  if (one.isDifference) {
    sentence.push_back({differenceText(*outcome.row, metric), outcome.row, metric, true});
    sentence.push_back({differenceIntervalWords(figure, metric)});
  } else {
    addFigure(sentence, *outcome.row, metric);
  }
  const bool isValue = one.low == one.high;
  if (isOutside(outcome))
    sentence.push_back({", " + outcomeWords(outcome)});
  else if (isValue)
    sentence.push_back({"; its interval holds the value that was said"});
  else if (std::isfinite(chance))
    sentence.push_back({fmt::format("; the chance that it is so is {}", chanceWords(chance))});
  sentence.push_back({"."});
  if (leaning != Leaning::Yes && leaning != Leaning::No) sentence.push_back({" More repeats would narrow it."});
  return sentence;
}

}  // namespace

std::vector<Sentence> claimSentences(const StudyReport& report, const LoadStanding& load) {
  const std::vector<StatedOutcome> all = outcomesOf(report, load);
  const bool hasClaim = std::any_of(all.begin(), all.end(),
                                    [](const StatedOutcome& one) { return one.stated->kind == StatedKind::Claimed; });
  std::vector<Sentence> sentences;
  for (const StatedOutcome& outcome : all) {
    if (hasClaim && outcome.stated->kind != StatedKind::Claimed) continue;
    if (outcome.stated->takenBack.empty()) sentences.push_back(sentenceOf(report, outcome));
  }
  if (sentences.empty()) return {{{"Cannot tell: nothing is claimed of a setup yet. Write it down on Plan."}}};
  return sentences;
}

}  // namespace ash
