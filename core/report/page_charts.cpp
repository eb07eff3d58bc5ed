// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/page_charts.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/role.h"
#include "report/answer/answer.h"
#include "report/chart/svg_bars.h"
#include "report/chart/svg_chart.h"
#include "report/chart/svg_columns.h"

namespace ash {
namespace {

ChartLine warmUpLine(const StudyReport& report, const AnalyzedRun& run, bool overRoom) {
  ChartLine line;
  line.setupIndex = setupIndexIn(report.study, run.run.facts.setup);
  const Channel* channel = run.run.log.find(run.figures.watched);
  if (channel == nullptr || !run.figures.load) return line;
  line.series = seriesOf(run.run.log, *channel);
  const Channel* room = run.run.log.find(roles::kRoom);
  const Series roomSeries = room == nullptr ? Series() : seriesOf(run.run.log, *room);
  const double stated = run.run.facts.conditionNumber(fields::kRoom).value_or(0);
  for (size_t i = 0; i < line.series.size(); ++i) {
    if (overRoom) line.series.v[i] -= roomSeries.empty() ? stated : interpolate(roomSeries, line.series.t[i]);
    line.series.t[i] -= run.figures.load->startS;
  }
  return line;
}

// "Mesh 47.0 K ± 0.3 K, Solid at least 72.7 K, at its limit."
std::string spokenOf(const std::vector<ChartColumn>& columns) {
  std::string words;
  for (const ChartColumn& column : columns) {
    words += (words.empty() ? "" : "; ") + column.label + " " + column.figure;
    if (!column.under.empty()) words += (column.isAtLimit ? ", " : " ") + column.under;
  }
  return words + ".";
}

// How high the lines of each setup go.
std::string highestOf(const StudyReport& report, const ChartSpec& chart) {
  std::map<int, double> highest;
  for (const ChartLine& line : chart.lines) {
    for (const double value : line.series.v) {
      if (std::isfinite(value))
        highest.emplace(line.setupIndex, value).first->second = std::max(highest[line.setupIndex], value);
    }
  }
  std::string words;
  for (const auto& [setup, value] : highest) {
    if (setup < 0) continue;
    words += (words.empty() ? "" : "; ") + report.study.setups[static_cast<size_t>(setup)].name + " up to " +
             withUnit(value, 1, chart.unit);
  }
  return words + ".";
}

}  // namespace

double figureOfRun(const AnalyzedRun& run, const Figure& metric) {
  const auto metrics = metricsOf(run.run, run.figures);
  const auto found = metrics.find(metric);
  return found == metrics.end() ? kMissing : found->second.value;
}

std::optional<double> limitOfMetric(const AnalyzedRun& run, const Figure& metric) {
  if (metric.kind().warming != WhileWarming::Above) return std::nullopt;
  const bool overRoom = metric.id() == FigureId::OverRoom;
  const ChannelFigures* channel = run.figures.channel(Role(metric.device(), Quantity::Temperature).text());
  if (channel == nullptr || !channel->limit) return std::nullopt;
  if (!overRoom) return channel->limit;
  if (!channel->overAmbientK || !channel->headroomK) return std::nullopt;
  return *channel->overAmbientK + *channel->headroomK;
}

bool wasAtLimit(const AnalyzedRun& run, const Figure& metric) {
  if (!run.figures.window || !limitOfMetric(run, metric)) return false;
  for (const Throttling& throttling : run.figures.throttling) {
    if (throttling.device != metric.device()) continue;
    for (const ThrottleInterval& interval : throttling.intervals) {
      if (interval.cause == Cause::Thermal && interval.span.startS < run.figures.window->span.endS &&
          interval.span.endS > run.figures.window->span.startS)
        return true;
    }
  }
  return false;
}

Markup resultChart(const StudyReport& report, const LoadStanding& load) {
  const Figure metric = leadingMetric(report, load.comparison);
  std::vector<ChartColumn> columns;
  for (const ComparisonRow* row : ranked(load.comparison, metric)) {
    const MetricRow& figure = row->metrics.at(metric);
    ChartColumn column;
    column.label = row->setup;
    column.figure = valueBesideMargin(*row, metric);
    column.under = marginText(*row, metric);
    column.value = shownValue(metric, figure.value);
    column.low = shownValue(metric, figure.ciLow);
    column.high = shownValue(metric, figure.ciHigh);
    column.setupIndex = setupIndexOf(report, *row);
    for (const auto& run : report.runs) {
      if (std::find(row->runs.begin(), row->runs.end(), run->run.name) == row->runs.end()) continue;
      if (const double value = figureOfRun(*run, metric); std::isfinite(value))
        column.repeats.push_back(shownValue(metric, value));
      if (const auto limit = limitOfMetric(*run, metric)) column.limit = std::max(column.limit.value_or(0), *limit);
      column.isAtLimit |= wasAtLimit(*run, metric);
    }
    if (column.isAtLimit) {
      column.figure = "at least " + column.figure;
      column.under = "at its limit";
    }
    columns.push_back(std::move(column));
  }
  if (columns.empty()) return {};
  const std::string title = metric.title() + ", " + load.load;
  const ChartWords words{title, shownUnit(metric), title + ": " + spokenOf(columns)};
  constexpr size_t kMostColumns = 6;
  return columns.size() > kMostColumns ? svgBars(words, columns) : svgColumns(words, columns);
}

Markup warmUpChart(const StudyReport& report, const LoadStanding& load) {
  const bool overRoom = std::any_of(report.runs.begin(), report.runs.end(), [](const auto& run) {
    const ChannelFigures* watched = run->figures.channel(run->figures.watched);
    return watched != nullptr && watched->overAmbientK.has_value();
  });
  ChartSpec spec;
  spec.unit = overRoom ? "K" : "°C";
  spec.xTitle = "minutes from load start";
  std::set<std::string> labelled, watched;
  for (const auto& run : report.runs) {
    if (run->run.facts.load != load.load || run->run.facts.outcome == Outcome::Void) continue;
    ChartLine line = warmUpLine(report, *run, overRoom);
    if (line.series.empty()) continue;
    watched.insert(run->figures.watched);
    if (labelled.insert(run->run.facts.setup).second) line.label = run->run.facts.setup;
    spec.lines.push_back(std::move(line));
  }
  if (spec.lines.empty()) return {};
  // One task done in two ways warms two parts.
  const std::string what = watched.size() == 1 ? Role(*watched.begin()).title() : "Temperature of the part that works";
  spec.title = what + (overRoom ? ", over room" : "") + ", " + load.load;
  spec.spoken = spec.title + ", over the minutes from load start: " + highestOf(report, spec);
  return svgLineChart(spec);
}

}  // namespace ash
