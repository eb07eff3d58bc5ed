// SPDX-License-Identifier: GPL-3.0-or-later
// Scores of passes and how far they fell.
#include <algorithm>
#include <cmath>

#include "analysis/energy/energy.h"
#include "analysis/run/worked_device.h"

namespace ash {

namespace {

// The hottest reading of what the load works, within the pass.
double highestIn(const RunContext& context, DeviceKind worked, const TimeSpan& span) {
  double highest = kMissing;
  for (const Channel& channel : context.run.log.channels) {
    if (channel.quantity != Quantity::Temperature || !channel.role.device().is(worked)) continue;
    const SeriesView* readings = context.find(channel.name);
    if (readings == nullptr) continue;
    const SeriesView part = viewOf(*readings, span);
    for (const double celsius : part.v) {
      if (!(highest >= celsius)) highest = celsius;
    }
  }
  return highest;
}

}  // namespace

std::optional<PassFigures> passesOf(const RunContext& context) {
  const RunFacts& facts = context.run.facts;
  std::vector<double> scores;
  for (const Pass& pass : facts.passes) {
    if (std::isfinite(pass.score)) scores.push_back(pass.score);
  }
  if (scores.empty()) return std::nullopt;
  const auto [low, high] = std::minmax_element(scores.begin(), scores.end());
  PassFigures figures;
  const DeviceKind worked = workedDevice(context);
  for (const Pass& pass : facts.passes)
    figures.each.push_back({pass.startS, pass.endS, pass.score, highestIn(context, worked, {pass.startS, pass.endS})});
  figures.count = scores.size();
  figures.first = scores.front();
  figures.last = scores.back();
  figures.best = facts.lowerScoreIsBetter ? *low : *high;
  figures.worst = facts.lowerScoreIsBetter ? *high : *low;
  const double share = facts.lowerScoreIsBetter ? figures.best / figures.worst : figures.worst / figures.best;
  figures.stabilityPercent = 100 * share;
  const size_t tail = std::max<size_t>(1, scores.size() / 3);
  figures.sustained = medianOf({scores.end() - static_cast<std::ptrdiff_t>(tail), scores.end()});
  figures.sustainedPercent =
      100 * (facts.lowerScoreIsBetter ? figures.first / figures.sustained : figures.sustained / figures.first);
  if (scores.size() >= 3) {
    const double middle = static_cast<double>(scores.size() - 1) / 2, mean = meanOf(scores);
    double xy = 0, xx = 0;
    for (size_t i = 0; i < scores.size(); ++i) {
      const double x = static_cast<double>(i) - middle;
      xy += x * (scores[i] - mean);
      xx += x * x;
    }
    figures.trendPercent = 100 * xy / xx / figures.first;
  }
  return figures;
}

}  // namespace ash
