// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/charts/window_charts.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "model/number_text.h"
#include "model/role.h"
#include "report/answer/leaning.h"
#include "report/charts/chart_words.h"

namespace ash {
namespace {

constexpr double kMostGap = 3;      // usual intervals that a reading counts for
constexpr size_t kLeastParts = 3;   // of a trail
constexpr size_t kMostBins = 4000;  // of one run: a clock of nonsense makes no picture
constexpr double kFewBins = 24;     // that the widths aim at

Role clockOf(const AnalyzedRun& run) { return {Device(run.figures.worked), Quantity::Clock}; }
Role powerOf(const AnalyzedRun& run) { return {Device(run.figures.worked), Quantity::Power}; }

// The runs that can stand in one picture, and the labels of those that cannot.
struct Comparable {
  std::vector<ShownWindow> shown;
  std::vector<std::string> leftOut;
};

Comparable comparableOf(const std::vector<ShownWindow>& shown) {
  Comparable all;
  for (const ShownWindow& one : shown) {
    if (one.run->figures.worked == shown.front().run->figures.worked)
      all.shown.push_back(one);
    else if (!one.label.empty())
      all.leftOut.push_back(one.label);
  }
  return all;
}

std::string leftOutWords(const std::vector<std::string>& names) {
  return names.empty() ? "" : fmt::format("; without {}: another device works there", joinedNames(names));
}

Chart chartOf(const char* id, const std::string& title, const std::string& what, PlanePlot plot,
              const std::vector<std::string>& said) {
  return Chart{id, title, what, "", title + ": " + spokenList(said), std::move(plot)};
}

/// Which readings a trail goes through, and how it is told.
struct TrailPlan {
  const char* id;
  std::string x, y, title;
  PlotAxis across, up;
  std::string xUnit, yUnit;
};

std::optional<Chart> trails(const Comparable& all, const TrailPlan& plan) {
  PlanePlot plot;
  plot.x = plan.across;
  plot.y = plan.up;
  std::vector<std::string> said;
  for (const ShownWindow& one : all.shown) {
    PlotLine line = trailOf(*one.run, plan.x.empty() ? one.run->figures.watched : plan.x, plan.y, one.span);
    if (line.x.size() < kLeastParts) continue;
    line.label = one.label;
    line.setupIndex = one.setupIndex;
    if (!one.label.empty())
      said.push_back(fmt::format("{} on average {} at {}", one.label, withUnit(ash::meanOf(line.y), 0, plan.yUnit),
                                 withUnit(ash::meanOf(line.x), 0, plan.xUnit)));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  return chartOf(plan.id, plan.title, "light at the start of its window, full at its end" + leftOutWords(all.leftOut),
                 std::move(plot), said);
}

// 1, 2 or 5 times a power of ten, so that the widest spread of a run makes few bins.
double binWidth(double spread) {
  const double least = std::max(spread / kFewBins, 1.0), ten = std::pow(10, std::floor(std::log10(least)));
  for (const double step : {1.0, 2.0, 5.0}) {
    if (step * ten >= least) return step * ten;
  }
  return 10 * ten;
}

// Steps from zero up to the first bin and down again after the last one.
PlotLine stepsOf(const ShareBins& bins, double width) {
  PlotLine line;
  line.stroke = PlotLine::Stroke::Steps;
  line.x.push_back(bins.from.front());
  line.y.push_back(0);
  for (size_t i = 0; i < bins.from.size(); ++i) {
    line.x.push_back(bins.from[i]);
    line.y.push_back(bins.percent[i]);
  }
  line.x.push_back(bins.from.back() + width);
  line.y.push_back(0);
  return line;
}

std::string mostHeld(const std::string& label, const ShareBins& bins, double width) {
  const auto most = std::max_element(bins.percent.begin(), bins.percent.end());
  const double from = bins.from[static_cast<size_t>(most - bins.percent.begin())];
  return fmt::format("{} most often {} to {}, {} of its time", label, numberText(from, 0),
                     withUnit(from + width, 0, "MHz"), withUnit(*most, 0, "%"));
}

}  // namespace

ShareBins sharesOfTime(const SeriesView& series, double width) {
  if (series.empty() || !(width > 0) || !std::isfinite(width)) return {};
  const auto [least, most] = std::minmax_element(series.v.begin(), series.v.end());
  const double first = std::floor(*least / width), last = std::floor(*most / width);
  if (!(last - first < static_cast<double>(kMostBins))) return {};
  ShareBins bins;
  // Counted as a whole number: far up, one more is no other double.
  const auto count = static_cast<size_t>(last - first) + 1;
  for (size_t i = 0; i < count; ++i) bins.from.push_back((first + static_cast<double>(i)) * width);
  bins.percent.resize(count);
  const double usual = series.size() > 1 ? medianInterval(series.t) : 1;
  double sum = 0;
  for (size_t i = 0; i < series.size(); ++i) {
    const double lasts = i + 1 < series.size() ? std::min(series.t[i + 1] - series.t[i], kMostGap * usual) : usual;
    bins.percent[static_cast<size_t>(std::floor(series.v[i] / width) - first)] += lasts;
    sum += lasts;
  }
  for (double& share : bins.percent) share *= 100 / sum;
  return bins;
}

std::optional<Chart> windowClockHeat(const std::vector<ShownWindow>& shown) {
  if (shown.empty()) return std::nullopt;
  const AnalyzedRun& first = *shown.front().run;
  const Role clock = clockOf(first);
  return trails(comparableOf(shown), {"clock-heat",
                                      "",
                                      clock.text(),
                                      "Clock against temperature",
                                      {Role(first.figures.watched).title() + ", °C"},
                                      {clock.title() + ", MHz"},
                                      "°C",
                                      "MHz"});
}

std::optional<Chart> windowPowerClock(const std::vector<ShownWindow>& shown) {
  if (shown.empty()) return std::nullopt;
  const AnalyzedRun& first = *shown.front().run;
  const Role clock = clockOf(first), power = powerOf(first);
  return trails(comparableOf(shown), {"power-clock",
                                      clock.text(),
                                      power.text(),
                                      "Power against clock",
                                      {clock.title() + ", MHz"},
                                      {power.title() + ", W"},
                                      "MHz",
                                      "W"});
}

std::optional<Chart> windowClockShares(const std::vector<ShownWindow>& shown) {
  if (shown.empty()) return std::nullopt;
  const Comparable all = comparableOf(shown);
  const Role clock = clockOf(*shown.front().run);
  std::vector<Series> readings;
  double spread = 0;
  for (const ShownWindow& one : all.shown) {
    const Channel* channel = one.run->run.log.find(clock.text());
    readings.push_back(channel == nullptr ? Series() : slice(seriesOf(one.run->run.log, *channel), one.span));
    if (readings.back().empty()) continue;
    const auto [least, most] = std::minmax_element(readings.back().v.begin(), readings.back().v.end());
    spread = std::max(spread, *most - *least);
  }
  const double width = binWidth(spread);
  PlanePlot plot;
  plot.x = {clock.title() + ", MHz"};
  plot.y = {"share of the window, %", PlotAxis::Scale::Number, true};
  std::vector<std::string> said;
  for (size_t i = 0; i < readings.size(); ++i) {
    const ShareBins bins = sharesOfTime(readings[i], width);
    if (bins.from.empty()) continue;
    PlotLine line = stepsOf(bins, width);
    line.label = all.shown[i].label;
    line.setupIndex = all.shown[i].setupIndex;
    if (!line.label.empty()) said.push_back(mostHeld(line.label, bins, width));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  return chartOf("clock-shares", "How long each clock was held",
                 fmt::format("in steps of {}", withUnit(width, 0, "MHz")) + leftOutWords(all.leftOut), std::move(plot),
                 said);
}

}  // namespace ash
