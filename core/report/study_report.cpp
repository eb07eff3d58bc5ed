// SPDX-License-Identifier: GPL-3.0-or-later
// The answer of a study in words.
#include "report/study_report.h"

#include <fmt/format.h>

#include <cmath>

#include "model/number_text.h"

namespace ash {
namespace {

std::string device(const std::string& watched) { return watched.substr(0, watched.find('.')); }

const ComparisonRow* referenceRow(const Comparison& comparison) {
  for (const ComparisonRow& row : comparison.rows) {
    for (const std::string& run : row.runs) {
      if (run == comparison.reference) return &row;
    }
  }
  return comparison.rows.empty() ? nullptr : &comparison.rows.front();
}

std::string intervalWords(const MetricRow& metric, const std::string& unit) {
  const int digits = usualDigits(unit);
  return fmt::format("{} to {}", signedText(metric.differenceLow, digits),
                     withUnit(metric.differenceHigh, digits, unit));
}

// "lower" reads better than a minus sign, and "better" says what it means.
std::string sentenceFor(const ComparisonRow& row, const ComparisonRow& reference, const std::string& metric) {
  const auto found = row.metrics.find(metric);
  if (found == row.metrics.end()) return fmt::format("{} has no such figure.", row.setup);
  const MetricRow& figure = found->second;
  const std::string unit = metricUnit(metric);
  const int digits = usualDigits(unit);
  if (figure.verdict == "not comparable")
    return fmt::format("{} cannot be compared with {}: {}", row.setup, reference.setup, figure.reason);
  if (figure.verdict == "within margin") {
    return fmt::format("{} and {} do not differ beyond the margin ({}).", row.setup, reference.setup,
                       intervalWords(figure, unit));
  }
  if (figure.verdict == "too few repeats") {
    return fmt::format("Between {} and {} nothing is shown either way ({}). {}", row.setup, reference.setup,
                       intervalWords(figure, unit), figure.reason);
  }
  const std::string bound = figure.bound.empty() ? "" : figure.bound + " ";
  return fmt::format("{} is {}{} {} than {} ({}): {}.", row.setup, bound,
                     withUnit(std::abs(figure.difference), digits, unit), figure.difference < 0 ? "lower" : "higher",
                     reference.setup, intervalWords(figure, unit), figure.verdict);
}

}  // namespace

std::string leadingMetric(const StudyReport& report) {
  for (const AnalyzedRun& run : report.runs) {
    const std::string base = device(run.figures.watched);
    if (base.empty()) continue;
    for (const std::string& name : {base + ".over_ambient_k", base + ".temp"}) {
      for (const ComparisonRow& row : report.comparison.rows) {
        if (row.metrics.contains(name)) return name;
      }
    }
  }
  return "work.rate";
}

std::string answerText(const StudyReport& report) {
  const ComparisonRow* reference = referenceRow(report.comparison);
  if (reference == nullptr) return "There is no run to answer from yet.";
  const std::string metric = leadingMetric(report);
  const std::string unit = metricUnit(metric);
  const auto own = reference->metrics.find(metric);
  std::string text;
  if (own != reference->metrics.end()) {
    text = fmt::format("{} of {}: {} ± {}.", metricTitle(metric), reference->setup,
                       withUnit(own->second.value, usualDigits(unit), unit),
                       numberText((own->second.ciHigh - own->second.ciLow) / 2, usualDigits(unit) + 1));
  } else {
    text = fmt::format("{} has no figure for {}.", reference->setup, metricTitle(metric));
  }
  for (const ComparisonRow& row : report.comparison.rows) {
    if (&row != reference) text += " " + sentenceFor(row, *reference, metric);
  }
  return text;
}

}  // namespace ash
