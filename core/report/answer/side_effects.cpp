// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/side_effects.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/ladder.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

constexpr double kHoursADay = 4, kHourS = 3600;

// S. S. Stevens, Psychol. Rev. 64 (1957): loudness doubles with ten decibels; about one is told side by side.
std::string noiseMeans(double db) {
  const double size = std::abs(db);
  if (size < 1) return "hardly told side by side";
  if (size < 3) return "told side by side, not from memory";
  return fmt::format("about {} × as loud", numberText(std::pow(2, db / 10), 1));
}

std::string powerMeans(double watts) {
  const double kiloWattHours = yearlyUse(std::abs(watts), kHoursADay, 0).kiloWattHours;
  return fmt::format("{} {} a year, at {:g} h a day", withUnit(kiloWattHours, kiloWattHours < 10 ? 1 : 0, "kWh"),
                     watts < 0 ? "less" : "more", kHoursADay);
}

// A rate that is so much higher or lower makes an hour's work so much shorter or longer.
std::string paceMeans(const MetricRow& figure) {
  const double before = figure.value - figure.difference;
  if (!(before > 0) || !(figure.value > 0)) return "";
  const double seconds = kHourS * (before / figure.value - 1);
  return fmt::format("what took an hour takes {} {}", roughDurationWords(std::abs(seconds)),
                     seconds < 0 ? "less" : "more");
}

std::string heatMeans(const MetricRow& figure) {
  return fmt::format("heat holds its clock down for {} {} of every hour",
                     roughDurationWords(kHourS * std::abs(figure.difference)), figure.difference < 0 ? "less" : "more");
}

// Empty for a figure that is no side effect, or says by itself what it means.
std::string meaningOf(const MetricRow& figure, const Figure& metric) {
  switch (metric.id()) {
    case FigureId::Noise:
    case FigureId::NoiseOverRest:
      return noiseMeans(figure.difference);
    case FigureId::WallPower:
    case FigureId::IdleWallPower:
      return powerMeans(figure.difference);
    case FigureId::WorkRate:
    case FigureId::FrameRate:
      return paceMeans(figure);
    case FigureId::ThrottledThermal:
      return heatMeans(figure);
    case FigureId::Energy:
      return withUnit(std::abs(figure.difference) / kHourS, 1, "Wh") + (figure.difference < 0 ? " less" : " more") +
             " for this load";
    case FigureId::HeadroomK:
      return "that part reaches its limit in a room so much cooler";
    default:
      return "";
  }
}

// Of other parts only what is worse is told: it limits what was gained.
bool isBesideTheQuestion(const MetricRow& figure, const Figure& metric, const Figure& lead) {
  if (metric == lead) return false;
  return metric.id() != FigureId::HeadroomK || (metric.device() != lead.device() && figure.verdict == Verdict::Worse);
}

}  // namespace

std::vector<Sentence> sideEffectSentences(const StudyReport& report, const LoadStanding& load) {
  const ComparisonRow* reference = referenceRow(load.comparison);
  const Figure lead = leadingMetric(report, load.comparison);
  std::vector<Sentence> sentences;
  // Of many setups only what the best brings along.
  const auto rows = ranked(load.comparison, lead);
  const ComparisonRow* only = isCrowded(load) && !rows.empty() ? rows.front() : nullptr;
  for (const ComparisonRow& row : load.comparison.rows) {
    if (&row == reference || reference == nullptr || (only != nullptr && &row != only)) continue;
    for (const MetricGroup& group : metricGroups(load.comparison)) {
      for (const Figure& metric : group.metrics) {
        const MetricRow* figure = figureIn(row, metric);
        if (figure == nullptr || !isShown(figure->verdict) || !isBesideTheQuestion(*figure, metric, lead)) continue;
        const std::string means = meaningOf(*figure, metric);
        if (means.empty()) continue;
        sentences.push_back({{fmt::format("{} of {}: ", metric.title(), row.setup)},
                             {differenceText(row, metric), &row, metric, true},
                             {fmt::format(" than with {}: {}.", reference->setup, means)}});
      }
    }
  }
  return sentences;
}

}  // namespace ash
