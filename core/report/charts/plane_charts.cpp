// SPDX-License-Identifier: GPL-3.0-or-later
// Charts of two quantities against each other.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/role.h"
#include "report/answer/answer.h"
#include "report/answer/held_ladder.h"
#include "report/answer/leaning.h"
#include "report/answer/row_figure.h"
#include "report/charts/chart_words.h"
#include "report/charts/run_figures.h"
#include "report/charts/study_charts.h"

namespace ash {
namespace {

std::string endOf(const PlotLine& trail) {
  return fmt::format("{} at {}", withUnit(trail.y.back(), 0, "MHz"), withUnit(trail.x.back(), 0, "°C"));
}

// Who is fastest when the load ends, and who is slowest.
std::string clockFinding(const std::vector<PlotLine>& trails) {
  const auto [least, most] = std::minmax_element(
      trails.begin(), trails.end(), [](const PlotLine& a, const PlotLine& b) { return a.y.back() < b.y.back(); });
  if (trails.size() == 1) return fmt::format("{} ends at {}", most->label, endOf(*most));
  constexpr double kAlike = 0.005;
  if (most->y.back() - least->y.back() < kAlike * most->y.back())
    return fmt::format("{} end at the same clock, about {}", trails.size() == 2 ? "Both" : "All",
                       withUnit(most->y.back(), 0, "MHz"));
  return fmt::format("{} ends fastest, {}; {} slowest, {}", most->label, endOf(*most), least->label, endOf(*least));
}

// Whether it is shown to lie lower: by intervals that do not meet, by the values where there are none.
bool isLower(double value, double high, double other, double otherLow) {
  if (!std::isfinite(high) || !std::isfinite(otherLow)) return value < other;
  return high < otherLow;
}
bool isQuieter(const PlotPoint& a, const PlotPoint& b) { return isLower(a.x, a.xHigh, b.x, b.xLow); }
bool isCooler(const PlotPoint& a, const PlotPoint& b) { return isLower(a.y, a.yHigh, b.y, b.yLow); }

// Shown to be ahead in one and not behind in the other.
bool isBeaten(const PlotPoint& point, const PlotPoint& other) {
  return (isQuieter(other, point) && !isCooler(point, other)) || (isCooler(other, point) && !isQuieter(point, other));
}

std::string noiseFinding(const std::vector<PlotPoint>& points) {
  std::vector<std::string> unbeaten;
  bool isNoiseShown = false;
  for (const PlotPoint& point : points) {
    if (std::none_of(points.begin(), points.end(), [&](const PlotPoint& other) { return isBeaten(point, other); }))
      unbeaten.push_back(point.label);
    isNoiseShown |=
        std::any_of(points.begin(), points.end(), [&](const PlotPoint& other) { return isQuieter(point, other); });
  }
  const PlotPoint& coolest =
      *std::min_element(points.begin(), points.end(), [](const PlotPoint& a, const PlotPoint& b) { return a.y < b.y; });
  constexpr size_t kFew = 3;
  if (!isNoiseShown) return fmt::format("{} comes out coolest; noise is not shown to differ", coolest.label);
  if (unbeaten.size() == points.size())
    return fmt::format("{} is ahead of another in both noise and warmth", points.size() == 2 ? "Neither" : "None");
  if (unbeaten.size() <= kFew)
    return fmt::format("No other is ahead of {} in both noise and warmth", joinedNames(unbeaten));
  return fmt::format("{} of {} are not beaten in both noise and warmth", unbeaten.size(), points.size());
}

void takeFigure(const MetricRow& figure, double& value, double& low, double& high) {
  value = figure.value;
  low = figure.ciLow;
  high = figure.ciHigh;
}

PlotPoint rungPoint(const StudyReport& report, const HeldRung& rung) {
  PlotPoint point;
  point.x = rung.setting;
  point.y = rung.headroomK;
  for (const auto& [figure, value] : rung.row->metrics) {
    if (figure.id() != FigureId::HeadroomK || value.value != rung.headroomK) continue;
    point.yLow = value.ciLow;
    point.yHigh = value.ciHigh;
  }
  point.setupIndex = std::max(0, setupIndexOf(report, *rung.row));
  point.isHollow = leaningOf(rung.chance) != Leaning::Yes;
  return point;
}

// Adds one ladder's rungs; gives back the furthest that holds, empty where none does.
std::string addLadder(const StudyReport& report, const HeldLadder& ladder, const std::string& field, PlanePlot& plot,
                      std::vector<std::string>& said) {
  std::string furthest;
  bool isBroken = false;
  PlotLine line;
  line.label = ladder.name;
  for (const HeldRung& rung : ladder.all) {
    if (!std::isfinite(rung.headroomK)) continue;
    PlotPoint point = rungPoint(report, rung);
    point.label = fieldText(field, rung.setting);
    // What lies behind one that did not hold is not reached.
    isBroken |= point.isHollow;
    if (!isBroken) furthest = rung.row->setup;
    said.push_back(fmt::format("{} {}, {}", rung.row->setup, withUnit(point.y, 1, "K"),
                               point.isHollow ? "not shown to hold" : "holds"));
    line.setupIndex = line.x.empty() ? point.setupIndex : line.setupIndex;
    line.x.push_back(point.x);
    line.y.push_back(point.y);
    plot.points.push_back(std::move(point));
  }
  // A path is drawn from the left to the right.
  if (line.x.size() > 1 && line.x.front() > line.x.back()) {
    std::reverse(line.x.begin(), line.x.end());
    std::reverse(line.y.begin(), line.y.end());
  }
  plot.lines.push_back(std::move(line));
  return furthest;
}

std::optional<Chart> ladderOf(const StudyReport& report, const LoadStanding& load, const std::string& field) {
  PlanePlot plot;
  plot.x = {fieldUnit(field).empty() ? fieldTitle(field) : fieldTitle(field) + ", " + fieldUnit(field)};
  plot.y = {"headroom of the part nearest to its limit, K"};
  std::vector<std::string> said, furthest;
  for (const HeldLadder& ladder : heldLadders(report, load, field)) {
    if (std::string name = addLadder(report, ladder, field, plot, said); !name.empty())
      furthest.push_back(std::move(name));
  }
  if (plot.points.size() < 2) return std::nullopt;
  if (plot.lines.size() == 1) plot.lines.front().label.clear();
  std::string finding = furthest.empty()       ? std::string("None of the settings is shown to hold")
                        : furthest.size() == 1 ? fmt::format("{} is the furthest that holds", furthest.front())
                                               : fmt::format("{} are the furthest that hold", joinedNames(furthest));
  const std::string title = fmt::format("Headroom against {}, {}", lowerFirst(fieldTitle(field)), load.load);
  return Chart{chartId(report, load, "ladder"),       std::move(finding),
               title + "; hollow: not shown to hold", chartSource(report, load),
               title + ": " + spokenList(said),       std::move(plot)};
}

}  // namespace

std::optional<Chart> clockChart(const StudyReport& report, const LoadStanding& load) {
  const std::vector<RunsOfSetup> setups = runsBySetup(report, load);
  if (setups.empty()) return std::nullopt;
  const DeviceKind worked = setups.front().runs.front()->figures.worked;
  // What is done in two ways has no clock in common.
  if (!std::all_of(setups.begin(), setups.end(),
                   [&](const RunsOfSetup& of) { return of.runs.front()->figures.worked == worked; }))
    return std::nullopt;
  const Role clock(Device(worked), Quantity::Clock);
  PlanePlot plot;
  plot.x = {Role(setups.front().runs.front()->figures.watched).title() + ", °C"};
  plot.y = {clock.title() + ", MHz"};
  std::vector<std::string> said;
  for (const RunsOfSetup& of : setups) {
    const AnalyzedRun& run = *of.runs.front();
    PlotLine trail = trailOf(run, run.figures.watched, clock.text(), run.figures.load.value_or(TimeSpan()));
    constexpr size_t kLeast = 3;
    if (trail.x.size() < kLeast) continue;
    trail.label = of.setup;
    trail.setupIndex = of.index;
    said.push_back(fmt::format("{} ends at {}", of.setup, endOf(trail)));
    plot.lines.push_back(std::move(trail));
  }
  if (plot.lines.empty()) return std::nullopt;
  const std::string title = clock.title() + " against temperature, " + load.load;
  return Chart{chartId(report, load, "clock"),
               clockFinding(plot.lines),
               title + "; first run of each, light at its start, full at its end",
               chartSource(report, load),
               title + ": " + spokenList(said),
               std::move(plot)};
}

std::optional<Chart> noiseChart(const StudyReport& report, const LoadStanding& load) {
  const Figure lead = leadingMetric(report, load.comparison), noise(FigureId::Noise);
  const Figure warm =
      lead.isTemperature() && lead.better() == Better::Lower ? lead : Figure(DeviceKind::Cpu, FigureId::OverRoom);
  PlanePlot plot;
  plot.x = {"noise, " + noise.unit()};
  plot.y = {fmt::format("{}, {}", warm.title(), warm.unit())};
  std::vector<std::string> said;
  for (const ComparisonRow& row : load.comparison.rows) {
    const MetricRow *loud = figureIn(row, noise), *hot = figureIn(row, warm);
    if (loud == nullptr || hot == nullptr) continue;
    PlotPoint point;
    takeFigure(*loud, point.x, point.xLow, point.xHigh);
    takeFigure(*hot, point.y, point.yLow, point.yHigh);
    point.label = row.setup;
    point.setupIndex = std::max(0, setupIndexOf(report, row));
    said.push_back(fmt::format("{} {} and {}", row.setup, valueText(row, noise), valueText(row, warm)));
    plot.points.push_back(std::move(point));
  }
  if (plot.points.size() < 2) return std::nullopt;
  std::string finding = noiseFinding(plot.points);
  const std::string title = fmt::format("{} against noise, {}", warm.title(), load.load);
  return Chart{chartId(report, load, "noise"),
               std::move(finding),
               title + ", with 95 % intervals where known",
               chartSource(report, load),
               title + ": " + spokenList(said),
               std::move(plot)};
}

std::optional<Chart> ladderChart(const StudyReport& report, const LoadStanding& load) {
  const std::optional<Comparison> asRun = load.comparison.equalBy ? comparedAsRun(report, load) : std::nullopt;
  const LoadStanding rungs = asRun ? LoadStanding{load.load, *asRun, {}, {}} : load;
  for (const std::string& field : report.plan.underTest) {
    if (std::optional<Chart> chart = ladderOf(report, rungs, field)) return chart;
  }
  return std::nullopt;
}

}  // namespace ash
