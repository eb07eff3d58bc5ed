// SPDX-License-Identifier: GPL-3.0-or-later
// Charts of the setups in their order: by what the study asks, by energy, by the price of a kelvin.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/answer/row_figure.h"
#include "report/charts/chart_words.h"
#include "report/charts/run_figures.h"
#include "report/charts/study_charts.h"

namespace ash {
namespace {

RankedSetup rankedSetup(const StudyReport& report, const ComparisonRow& row, const Figure& metric) {
  const MetricRow& figure = row.metrics.at(metric);
  RankedSetup setup;
  setup.label = row.setup;
  setup.figure = valueBesideMargin(row, metric);
  setup.under = marginText(row, metric);
  setup.value = shownValue(metric, figure.value);
  setup.low = shownValue(metric, figure.ciLow);
  setup.high = shownValue(metric, figure.ciHigh);
  setup.setupIndex = setupIndexOf(report, row);
  for (const auto& run : report.runs) {
    if (std::find(row.runs.begin(), row.runs.end(), run->run.name) == row.runs.end()) continue;
    // Of a levelled setup its runs are rungs, not repeats.
    if (const double value = figureOfRun(*run, metric); std::isfinite(value) && row.levelField.empty())
      setup.repeats.push_back(shownValue(metric, value));
    if (const auto limit = limitOfMetric(*run, metric)) setup.limit = std::max(setup.limit.value_or(0), *limit);
    setup.isAtLimit |= wasAtLimit(*run, metric);
  }
  if (setup.isAtLimit) {
    setup.figure = "at least " + setup.figure;
    setup.under = "at its limit";
  }
  return setup;
}

std::string saidOf(const RankedSetup& setup) {
  std::string words = setup.label + " " + setup.figure;
  if (!setup.under.empty()) words += (setup.isAtLimit ? ", " : " ") + setup.under;
  return words;
}

// "Mesh runs 10.3 K cooler than Solid", "Task time: Mesh 646 s, 1127 s less than Solid", of a row and what it is held
// against.
std::string differenceFinding(const ComparisonRow& row, const std::string& other, const Figure& metric) {
  const MetricRow* figure = figureIn(row, metric);
  if (figure == nullptr) return "";
  if (figure->verdict == Verdict::NotComparable) return fmt::format("{} and {} cannot be compared", row.setup, other);
  if (!isShown(figure->verdict)) return fmt::format("{} and {} are not shown to differ", row.setup, other);
  const FigureWords& words = metric.kind().words;
  if (words.more != FigureWords().more)
    return fmt::format("{} {} {} than {}", row.setup, words.verb, differenceText(row, metric), other);
  return fmt::format("{}: {} {}, {} than {}", metric.title(), row.setup, valueText(row, metric),
                     differenceText(row, metric), other);
}

// Where the question has a target in terms of the figure itself.
std::optional<double> askedOf(const StudyQuestion& asks, const Figure& metric) {
  const bool isOfRoom = asks.kind == QuestionKind::HoldsInRoom && metric.id() == FigureId::HottestRoom;
  const bool isOfNoise = asks.kind == QuestionKind::HoldsAtNoise && metric.id() == FigureId::Noise;
  return isOfRoom || isOfNoise ? asks.target : std::nullopt;
}

// How the first stands to the next, of all that were measured.
std::string rankFinding(const StudyReport& report, const LoadStanding& load, const Figure& metric,
                        const std::vector<const ComparisonRow*>& rows) {
  const ComparisonRow& best = *rows.front();
  if (rows.size() == 1) return fmt::format("{}: {}", best.setup, valueAndMargin(best, metric));
  const ComparisonRow& next = *rows[1];
  const ComparisonRow* reference = referenceRow(load.comparison);
  std::string words;
  if (reference != nullptr && reference->setup == next.setup) {
    words = differenceFinding(best, next.setup, metric);
  } else if (reference != nullptr && reference->setup == best.setup) {
    words = differenceFinding(next, best.setup, metric);
  } else if (const auto against = comparedWith(report, load, next, {metric})) {
    const ComparisonRow* row = rowOf(*against, best.setup);
    words = row == nullptr ? "" : differenceFinding(*row, next.setup, metric);
  }
  if (words.empty()) words = saidOf(rankedSetup(report, best, metric));
  return rows.size() == 2 ? words : fmt::format("{}, the first two of {}", words, rows.size());
}

}  // namespace

std::optional<Chart> rankChart(const StudyReport& report, const LoadStanding& load) {
  return rankChart(report, load, leadingMetric(report, load.comparison), "answer");
}

std::optional<Chart> rankChart(const StudyReport& report, const LoadStanding& load, const Figure& metric,
                               const std::string& id) {
  const std::vector<const ComparisonRow*> rows = ranked(load.comparison, metric);
  if (rows.empty()) return std::nullopt;
  RankPlot plot{shownUnit(metric), {}, askedOf(report.plan.asks, metric), {}};
  if (plot.asked) plot.askedWords = "asked: " + withUnit(*plot.asked, 0, plot.unit);
  std::vector<std::string> said;
  bool hasLimit = false, hasInterval = false;
  for (const ComparisonRow* row : rows) {
    plot.setups.push_back(rankedSetup(report, *row, metric));
    said.push_back(saidOf(plot.setups.back()));
    hasLimit |= plot.setups.back().limit.has_value();
    hasInterval |= std::isfinite(plot.setups.back().low);
  }
  std::string legend = hasInterval ? ", with 95 % intervals" : "";
  if (hasLimit) legend += "; limit marked";
  const std::string title = metric.title() + ", " + load.load + levelWords(load.comparison);
  return Chart{chartId(report, load, id), rankFinding(report, load, metric, rows), title + legend,
               chartSource(report, load), title + ": " + spokenList(said),         std::move(plot)};
}

std::optional<Chart> energyChart(const StudyReport& report, const LoadStanding& load) {
  for (const Figure& metric : {Figure(FigureId::WorkPerJoule), Figure(FigureId::Energy)}) {
    // A sum over a load says something of a task alone.
    const bool isOfTask = metric.id() != FigureId::Energy ||
                          std::any_of(load.comparison.rows.begin(), load.comparison.rows.end(),
                                      [](const auto& row) { return figureIn(row, FigureId::TaskTime) != nullptr; });
    if (!isOfTask || metric == leadingMetric(report, load.comparison) || ranked(load.comparison, metric).size() < 2)
      continue;
    return rankChart(report, load, metric, "energy");
  }
  return std::nullopt;
}

std::optional<Chart> priceChart(const StudyReport& report, const LoadStanding& load) {
  const Figure metric = leadingMetric(report, load.comparison);
  const ComparisonRow* reference = referenceRow(load.comparison);
  if (!metric.isTemperature() || reference == nullptr) return std::nullopt;
  const std::string currency = currencyOf(report.study), unit = currency.empty() ? "a kelvin" : currency + " a kelvin";
  RankPlot plot{unit, {}, std::nullopt, {}};
  for (const ComparisonRow& row : load.comparison.rows) {
    const auto one = pricePerUnit(row, metric);
    if (!one) continue;
    RankedSetup setup;
    setup.label = row.setup;
    setup.setupIndex = setupIndexOf(report, row);
    setup.value = one->value;
    setup.low = one->low;
    setup.high = one->high;
    setup.figure = withUnit(setup.value, 2, currency);
    if (std::isfinite(setup.low) && std::isfinite(setup.high))
      setup.under = fmt::format("{} to {}", numberText(setup.low, 2), numberText(setup.high, 2));
    plot.setups.push_back(std::move(setup));
  }
  if (plot.setups.empty()) return std::nullopt;
  std::stable_sort(plot.setups.begin(), plot.setups.end(),
                   [](const auto& a, const auto& b) { return a.value < b.value; });
  std::vector<std::string> said;
  for (const RankedSetup& setup : plot.setups) said.push_back(saidOf(setup));
  const RankedSetup& best = plot.setups.front();
  std::string finding = fmt::format("A kelvin less than {} costs {} with {}", reference->setup,
                                    withUnit(best.value, 2, currency), best.label);
  const std::string what =
      fmt::format("Price over that of {}, for each kelvin of {}, {}", reference->setup, metric.title(), load.load);
  return Chart{chartId(report, load, "price"), std::move(finding), what, chartSource(report, load),
               what + ": " + spokenList(said), std::move(plot)};
}

}  // namespace ash
