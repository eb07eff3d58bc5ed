// SPDX-License-Identifier: GPL-3.0-or-later
// Scores over passes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "report/charts/chart_words.h"
#include "report/charts/study_charts.h"

namespace ash {
namespace {

// Scores of pass after pass: the mean of the runs, and what they span.
PlotLine passLine(const RunsOfSetup& of) {
  PlotLine line;
  line.label = of.setup;
  line.setupIndex = of.index;
  size_t most = 0;
  for (const AnalyzedRun* run : of.runs)
    most = std::max(most, run->figures.passes ? run->figures.passes->each.size() : 0);
  for (size_t pass = 0; pass < most; ++pass) {
    double sum = 0, low = INFINITY, high = -INFINITY;
    size_t count = 0;
    for (const AnalyzedRun* run : of.runs) {
      if (!run->figures.passes || pass >= run->figures.passes->each.size()) continue;
      const double score = run->figures.passes->each[pass].score;
      if (!std::isfinite(score)) continue;
      sum += score;
      low = std::min(low, score);
      high = std::max(high, score);
      ++count;
    }
    if (count == 0) continue;
    line.x.push_back(static_cast<double>(pass + 1));
    line.y.push_back(sum / static_cast<double>(count));
    line.low.push_back(low);
    line.high.push_back(high);
  }
  return line;
}

// The last third held against the first pass, in percent of it; missing where that has none to be held against.
double changeOf(const PlotLine& line) {
  const size_t third = std::max<size_t>(1, line.y.size() / 3);
  const double percent =
      100 * (medianOf({line.y.end() - static_cast<std::ptrdiff_t>(third), line.y.end()}) / line.y.front() - 1);
  return std::isfinite(percent) ? percent : kMissing;
}

std::string changeWords(const PlotLine& line, bool isLowerBetter) {
  constexpr double kSame = 0.5;
  const double percent = changeOf(line);
  const std::string size = withUnit(std::abs(percent), 1, "%");
  if (std::isnan(percent)) return line.label + " has no first score to be held against";
  if (std::abs(percent) < kSame) return line.label + " keeps its first score";
  // A score may be a time.
  if (isLowerBetter)
    return fmt::format("{} takes {} {} than at first", line.label, size, percent > 0 ? "longer" : "less");
  return fmt::format("{} {} {} on its first score", line.label, percent < 0 ? "loses" : "gains", size);
}

// Of few setups each, of many the one that changes least and the one that changes most.
std::string passesFinding(const std::vector<PlotLine>& lines, bool isLowerBetter) {
  const auto changesLess = [](const PlotLine& a, const PlotLine& b) {
    return std::abs(changeOf(a)) < std::abs(changeOf(b));
  };
  const auto [least, most] = std::minmax_element(lines.begin(), lines.end(), changesLess);
  if (lines.size() == 1) return changeWords(lines.front(), isLowerBetter);
  const PlotLine &first = lines.size() == 2 ? lines[0] : *least, &second = lines.size() == 2 ? lines[1] : *most;
  return changeWords(first, isLowerBetter) + "; " + changeWords(second, isLowerBetter);
}

}  // namespace

std::optional<Chart> passesChart(const StudyReport& report, const LoadStanding& load) {
  PlanePlot plot;
  plot.x = {"pass"};
  plot.y = {"score"};
  std::vector<std::string> said;
  bool isLowerBetter = false;
  constexpr size_t kLeast = 3;
  for (const RunsOfSetup& of : runsBySetup(report, load)) {
    PlotLine line = passLine(of);
    if (line.x.size() < kLeast) continue;
    isLowerBetter |= of.runs.front()->run.facts.lowerScoreIsBetter;
    said.push_back(changeWords(line, isLowerBetter));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  const std::string title = "Score of pass after pass, " + load.load;
  return Chart{chartId(report, load, "passes"),        passesFinding(plot.lines, isLowerBetter),
               title + "; bands: all runs of a setup", chartSource(report, load),
               title + ": " + spokenList(said),        std::move(plot)};
}

}  // namespace ash
