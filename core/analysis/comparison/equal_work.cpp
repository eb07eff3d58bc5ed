// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/equal_work.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/same_way.h"
#include "model/number_text.h"

namespace ash {
namespace {

using Runs = std::vector<const AnalyzedRun*>;

constexpr double kAlikeWithin = 0.01;
constexpr double kEndsWithinSamples = 2;

double lengthOf(const AnalyzedRun& run) { return run.figures.load ? run.figures.load->lengthS() : kMissing; }

bool lastedAlike(const AnalyzedRun& a, const AnalyzedRun& b) {
  const double longest = std::max(lengthOf(a), lengthOf(b));
  const double ends = kEndsWithinSamples * std::max(a.figures.intervalS, b.figures.intervalS);
  // What is not known is not told apart.
  return !(std::abs(lengthOf(a) - lengthOf(b)) > std::max(kAlikeWithin * longest, ends));
}

bool areAlike(const AnalyzedRun& a, const AnalyzedRun& b) { return didEqualWork(a, b) || lastedAlike(a, b); }

// Mean over the runs, "–" where there is none.
std::string meanText(const Runs& runs, double (*valueOf)(const AnalyzedRun&), int digits, const char* unit) {
  double sum = 0;
  for (const AnalyzedRun* run : runs) sum += valueOf(*run);
  return std::isfinite(sum) ? withUnit(sum / static_cast<double>(runs.size()), digits, unit) : "–";
}

double meanPower(const AnalyzedRun& run) {
  for (const Energy& energy : run.figures.energy) {
    if (energy.channel == run.figures.efficiency.powerRole && energy.loadJ) return *energy.loadJ / lengthOf(run);
  }
  return kMissing;
}

}  // namespace

void refuseUnequalWork(MetricRow& row, const Runs& runs, const Runs& others, const Figure& metric) {
  if (!metric.kind().concerns.work || runs.empty() || others.empty()) return;
  const AnalyzedRun& first = *runs.front();
  const auto isLikeFirst = [&](const AnalyzedRun* run) { return areAlike(first, *run); };
  if (std::all_of(runs.begin(), runs.end(), isLikeFirst) && std::all_of(others.begin(), others.end(), isLikeFirst))
    return;
  row.verdict = Verdict::NotComparable;
  row.bound = Bound::None;
  row.reason = fmt::format(
      "The loads lasted {} and {}, and no equal work is known: compare the mean power ({} and {}) or the work per "
      "joule.",
      meanText(runs, lengthOf, 0, "s"), meanText(others, lengthOf, 0, "s"), meanText(runs, meanPower, 1, "W"),
      meanText(others, meanPower, 1, "W"));
}

}  // namespace ash
