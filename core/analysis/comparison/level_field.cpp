// SPDX-License-Identifier: GPL-3.0-or-later
// A comparison whose field was levelled first: one row a ladder, every figure read off at the same level.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/compare_rows.h"
#include "analysis/comparison/equal_work.h"

namespace ash {
namespace {

/// One ladder read off at the level.
Rung rungOf(const Pool& pool, const MetricMaps& maps, const CompareOptions& options, const Figure& level,
            const Figure& metric) {
  const Pooled x = withScatter(pooled(pool, maps, level, repeatabilityOf(options, level))),
               y = withScatter(pooled(pool, maps, metric, repeatabilityOf(options, metric)));
  if (x.n == 0 || y.n == 0) return {};
  return {x.mean, y.mean, x.variance, y.variance, y.degrees};
}

std::vector<Rung> rungsOf(const Ladder& ladder, const MetricMaps& maps, const CompareOptions& options,
                          const Figure& level, const Figure& metric) {
  std::vector<Rung> rungs;
  for (const Pool& pool : ladder.rungs) rungs.push_back(rungOf(pool, maps, options, level, metric));
  return rungs;
}

const Ladder* ladderWith(const std::vector<Ladder>& ladders, const AnalyzedRun& run) {
  for (const Ladder& ladder : ladders) {
    for (const Pool& pool : ladder.rungs) {
      if (std::find(pool.runs.begin(), pool.runs.end(), &run) != pool.runs.end()) return &ladder;
    }
  }
  return nullptr;
}

// Whether a figure or the level rests on an assumed scatter at any rung.
bool isAssumedOn(const Ladder& ladder, const MetricMaps& maps, const CompareOptions& options, const Figure& metric) {
  return std::any_of(ladder.rungs.begin(), ladder.rungs.end(), [&](const Pool& pool) {
    return withScatter(pooled(pool, maps, metric, repeatabilityOf(options, metric))).isAssumed;
  });
}

std::vector<const AnalyzedRun*> runsOf(const Ladder& ladder) {
  std::vector<const AnalyzedRun*> runs;
  for (const Pool& pool : ladder.rungs) runs.insert(runs.end(), pool.runs.begin(), pool.runs.end());
  return runs;
}

// What every ladder reaches; missing where they have nothing in common.
std::pair<double, double> commonSpan(const std::vector<Ladder>& ladders, const MetricMaps& maps, const Figure& level) {
  double lowest = -INFINITY, highest = INFINITY;
  for (const Ladder& ladder : ladders) {
    double from = INFINITY, to = -INFINITY;
    for (const Pool& pool : ladder.rungs) {
      const Pooled x = pooled(pool, maps, level);
      if (x.n == 0) continue;
      from = std::min(from, x.mean);
      to = std::max(to, x.mean);
    }
    lowest = std::max(lowest, from);
    highest = std::min(highest, to);
  }
  return lowest <= highest ? std::pair{lowest, highest} : std::pair{kMissing, kMissing};
}

// What the instrument of a figure may be off by, at any rung.
double accuracyOn(const Ladder& ladder, const MetricMaps& maps, const Figure& metric) {
  double se = 0;
  for (const Pool& pool : ladder.rungs) se = std::max(se, pooled(pool, maps, metric).accuracySe);
  return se;
}

MetricRow levelledRow(const ReadOff& own, const ReadOff& other, const CompareOptions& options, const Figure& metric,
                      bool lowerScoreIsBetter, bool isReference, size_t comparisons, double accuracySe,
                      bool isAssumed) {
  MetricRow row;
  row.value = own.value;
  if (std::isnan(own.value)) return row;
  Pooled whole{own.value, own.variance, own.degrees, kMissing, 2};
  whole.accuracySe = accuracySe;
  whole = withAccuracy(whole);
  setInterval(row, whole, metric);
  if (isReference) return row;
  if (std::isnan(other.value)) {
    row.verdict = Verdict::NotComparable;
    row.reason = "The reference cannot be levelled: " + other.reason + ".";
    return row;
  }
  Pooled a{own.value, own.variance, own.degrees, kMissing, 2};
  a.isAssumed = isAssumed;
  const Pooled b{other.value, other.variance, other.degrees, kMissing, 2};
  judgeDifference(row, a, b, options, metric, metric.better(lowerScoreIsBetter), comparisons);
  return row;
}

// The setting that the rungs differ in, and its value at the level.
void addLevelSetting(const Ladder& ladder, const MetricMaps& maps, const Figure& level, double at, ComparisonRow& row) {
  for (const char* field : {"power_limit_w", "fan_duty"}) {
    std::vector<Rung> rungs;
    for (const Pool& pool : ladder.rungs) {
      const auto set = pool.first().run.facts.conditionNumber(field);
      const Pooled x = pooled(pool, maps, level);
      if (set && x.n > 0) rungs.push_back({*set, x.mean, 0, x.variance, x.degrees});
    }
    const bool isWalked =
        std::any_of(rungs.begin(), rungs.end(), [&](const Rung& rung) { return rung.x != rungs.front().x; });
    if (!isWalked) continue;
    row.levelField = field;
    row.levelSetting = settingThatMeets(rungs, at, level.unit()).value;
    return;
  }
}

}  // namespace

bool isFirstRung(const std::vector<Pool>& pools, const Pool& pool) {
  for (const Ladder& ladder : laddersOf(pools)) {
    if (ladder.rungs.front().runs.front() == pool.runs.front()) return true;
  }
  return false;
}

// Replaces the rows by one a ladder, each read off at the same level.
void levelField(Comparison& comparison, const std::vector<Pool>& pools, const Pool& reference, const MetricMaps& maps,
                const CompareOptions& options) {
  const std::vector<Ladder> ladders = laddersOf(pools);
  const auto found = levelMetric(ladders, maps, options.equal.what);
  if (!found) {
    comparison.checks.push_back({Severity::Block,
                                 {reference.first().run.name},
                                 CheckKind::Equal,
                                 "The field cannot be levelled: no run has the figure that was to be equal."});
    for (ComparisonRow& row : comparison.rows) {
      for (auto& [name, metric] : row.metrics) {
        if (row.run != reference.first().run.name) metric.verdict = Verdict::NotComparable;
      }
    }
    return;
  }
  const Figure& level = *found;
  const auto [from, to] = commonSpan(ladders, maps, level);
  // Where nothing is asked, the middle: there all are measured.
  const double at = options.equal.at.value_or((from + to) / 2);
  const Ladder& referenceLadder = *ladderWith(ladders, reference.first());
  comparison.rows.clear();
  comparison.equalBy = level;
  comparison.equalAt = at;
  comparison.equalFrom = from;
  comparison.equalTo = to;
  for (const Ladder& ladder : ladders) {
    ComparisonRow row;
    row.run = ladder.rungs.front().first().run.name;
    row.setup = ladder.name;
    row.load = ladder.load;
    for (const AnalyzedRun* run : runsOf(ladder)) row.runs.push_back(run->run.name);
    row.repeats = static_cast<int>(row.runs.size());
    addLevelSetting(ladder, maps, level, at, row);
    for (const Figure& name : metricNames(maps, options)) {
      if (name == level) continue;
      const ReadOff own = readOff(rungsOf(ladder, maps, options, level, name), at, level.title(), level.unit());
      const ReadOff other =
          readOff(rungsOf(referenceLadder, maps, options, level, name), at, level.title(), level.unit());
      MetricRow metric =
          levelledRow(own, other, options, name, reference.first().run.facts.lowerScoreIsBetter,
                      &ladder == &referenceLadder, ladders.size() - 1, accuracyOn(ladder, maps, name),
                      isAssumedOn(ladder, maps, options, name) || isAssumedOn(referenceLadder, maps, options, name));
      if (&ladder != &referenceLadder) refuseUnequalWork(metric, runsOf(ladder), runsOf(referenceLadder), name);
      if (std::isnan(own.value)) {
        metric.verdict = Verdict::NotComparable;
        metric.reason = fmt::format("{} was not measured at {:.4g} {}: {}.", ladder.name, at, level.unit(), own.reason);
      }
      row.metrics[name] = metric;
    }
    comparison.rows.push_back(std::move(row));
  }
}

}  // namespace ash
