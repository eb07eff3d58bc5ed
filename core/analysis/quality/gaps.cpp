// SPDX-License-Identifier: GPL-3.0-or-later
// Holes.
#include <fmt/format.h>

#include <algorithm>

#include "analysis/quality/problems.h"

namespace ash {
namespace {

void findGaps(const std::string& name, const SeriesView& series, std::vector<Problem>& problems) {
  const double interval = medianInterval(series.t);
  if (interval <= 0) return;
  for (size_t i = 1; i < series.size(); ++i) {
    const double distance = series.t[i] - series.t[i - 1];
    if (distance <= kGapIntervals * interval) continue;
    problems.push_back(
        {ProblemKind::Gap, name, series.t[i - 1], series.t[i],
         fmt::format("{} has no reading for {:.1f} s from {:.1f} s on; the gap is left out, not bridged: "
                     "look after its source.",
                     name, distance, series.t[i - 1])});
  }
}

}  // namespace

std::vector<Problem> findGapProblems(const RunContext& context) {
  std::vector<Problem> problems;
  const auto& times = context.run.log.timeS;
  const double interval = context.intervalS;
  for (size_t i = 1; i < times.size() && interval > 0; ++i) {
    if (times[i] - times[i - 1] <= kGapIntervals * interval) continue;
    problems.push_back({ProblemKind::Gap, "", times[i - 1], times[i],
                        fmt::format("Nothing was logged for {:.1f} s from {:.1f} s on; the gap is left out: repeat the "
                                    "run if it lies in the window.",
                                    times[i] - times[i - 1], times[i - 1])});
  }
  for (const Channel& channel : context.run.log.channels) {
    // Whoever has a reading in every sample has no gaps of its own.
    if (context.series.at(channel.name).size() == times.size()) continue;
    // A gap of all channels is told once; a channel's own gap is told of the channel.
    std::vector<Problem> own;
    findGaps(channel.name, context.series.at(channel.name), own);
    for (Problem& gap : own) {
      const bool isShared = std::any_of(problems.begin(), problems.end(), [&](const Problem& p) {
        return p.kind == ProblemKind::Gap && p.channel.empty() && p.startS <= gap.endS && p.endS >= gap.startS &&
               gap.endS - gap.startS <= 1.5 * (p.endS - p.startS);
      });
      if (!isShared) problems.push_back(std::move(gap));
    }
  }
  return problems;
}

}  // namespace ash
