// SPDX-License-Identifier: GPL-3.0-or-later
// What was found, in words: the verdict of a comparison, its ranking, and the figures as they are written.
#pragma once

#include <string>
#include <vector>

#include "report/study/study_report.h"

namespace ash {

/// A piece of a sentence; a figure in it can be traced to its run and metric.
struct AnswerPart {
  std::string text;
  const ComparisonRow* row = nullptr;  ///< of a figure
  std::optional<Figure> metric = {};
  bool isDifference = false;  ///< else the row's own value
};
using Sentence = std::vector<AnswerPart>;

/// The verdict on one load: each setup against the reference, the best first.
std::vector<Sentence> verdictSentences(const StudyReport& report, const LoadStanding& load);

/// More than four setups: too many for one paragraph.
bool isCrowded(const LoadStanding& load);

/// Each setup against the reference alone, the best first.
std::vector<Sentence> pairSentences(const StudyReport& report, const LoadStanding& load);

/// The same for a place that holds few lines: of many setups only the ranking, the best against the reference, and what
/// each factor does.
std::vector<Sentence> headlineSentences(const StudyReport& report, const LoadStanding& load);

/// The ranking in one sentence: who is first, and whom that is shown against; empty for fewer than three setups.
Sentence rankingSentence(const StudyReport& report, const LoadStanding& load);

/// The runs of a load held against another of its setups, as the study would; none where that cannot be.
/// `metrics` alone where they are named: each costs time.
std::optional<Comparison> comparedWith(const StudyReport& report, const LoadStanding& load, const ComparisonRow& row,
                                       const std::vector<Figure>& metrics = {});
/// The same runs as they were run, where the study compares them at an equal level.
std::optional<Comparison> comparedAsRun(const StudyReport& report, const LoadStanding& load);

/// Sentences as plain text.
std::string plainText(const std::vector<Sentence>& sentences);

/// The answer to the study's question, load by load.
std::string answerText(const StudyReport& report);

/// Rows that have the metric, the best first; where neither way is better, the lowest first.
std::vector<const ComparisonRow*> ranked(const Comparison& comparison, const Figure& metric);

/// The first letter small, as inside a sentence; "CPU power" keeps its own.
std::string lowerFirst(std::string words);

/// Shares are kept as 0..1 and shown in percent.
double shownValue(const Figure& metric, double value);
std::string shownUnit(const Figure& metric);

/// Decimals of a value beside its interval, and of a difference beside its own; below zero for tens and more.
int digitsOf(const MetricRow& figure, const Figure& metric);
int digitsOfDifference(const MetricRow& figure, const Figure& metric);

/// "at least 57.3 K", "at most …" when the figure itself is a bound: a device at its limit or not settled.
std::string valueText(const ComparisonRow& row, const Figure& metric);
/// The same to the place of its margin, which stands beside it: "136.14 W".
std::string valueBesideMargin(const ComparisonRow& row, const Figure& metric);
/// "± 0.5 K"; empty where no interval is known.
std::string marginText(const ComparisonRow& row, const Figure& metric);
/// "56.2 °C ± 0.4 K".
std::string valueAndMargin(const ComparisonRow& row, const Figure& metric);
/// "9.9 K cooler", "at least 15.8 K cooler", "≈ 0.1 K", "?" for too few repeats, "not comparable".
std::string differenceText(const ComparisonRow& row, const Figure& metric);
std::string differenceText(const MetricRow& figure, const Figure& metric);

/// Metrics worth a line of a table, grouped and in a fixed order.
struct MetricGroup {
  std::string title;
  std::vector<Figure> metrics;
};
std::vector<MetricGroup> metricGroups(const Comparison& comparison);

}  // namespace ash
