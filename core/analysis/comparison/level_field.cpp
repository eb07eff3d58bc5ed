// SPDX-License-Identifier: GPL-3.0-or-later
// A comparison whose field was levelled first: one row a ladder, every figure read off at the same level.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/compare_rows.h"
#include "analysis/comparison/equal_work.h"
#include "analysis/comparison/same_way.h"
#include "analysis/series/statistics.h"

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

std::vector<Rung> rungsOf(const PoolLadder& ladder, const MetricMaps& maps, const CompareOptions& options,
                          const Figure& level, const Figure& metric) {
  std::vector<Rung> rungs;
  for (const Pool& pool : ladder.rungs) rungs.push_back(rungOf(pool, maps, options, level, metric));
  return rungs;
}

// The ladder that has the run.
size_t ladderWith(const std::vector<PoolLadder>& ladders, const AnalyzedRun& run) {
  for (size_t i = 0; i < ladders.size(); ++i) {
    for (const Pool& pool : ladders[i].rungs) {
      if (std::find(pool.runs.begin(), pool.runs.end(), &run) != pool.runs.end()) return i;
    }
  }
  return 0;
}

// Whether a figure or the level rests on an assumed scatter at any rung.
bool isAssumedOn(const PoolLadder& ladder, const MetricMaps& maps, const CompareOptions& options,
                 const Figure& metric) {
  return std::any_of(ladder.rungs.begin(), ladder.rungs.end(), [&](const Pool& pool) {
    return withScatter(pooled(pool, maps, metric, repeatabilityOf(options, metric))).isAssumed;
  });
}

std::vector<const AnalyzedRun*> runsOf(const PoolLadder& ladder) {
  std::vector<const AnalyzedRun*> runs;
  for (const Pool& pool : ladder.rungs) runs.insert(runs.end(), pool.runs.begin(), pool.runs.end());
  return runs;
}

// What every ladder reaches; missing where they have nothing in common.
std::pair<double, double> commonSpan(const std::vector<PoolLadder>& ladders, const MetricMaps& maps,
                                     const Figure& level) {
  double lowest = -INFINITY, highest = INFINITY;
  for (const PoolLadder& ladder : ladders) {
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
double accuracyOn(const PoolLadder& ladder, const MetricMaps& maps, const Figure& metric) {
  double se = 0;
  for (const Pool& pool : ladder.rungs) se = std::max(se, pooled(pool, maps, metric).accuracySe);
  return se;
}

MetricRow levelledRow(const ReadOff& own, const ReadOff& other, const CompareOptions& options, const Figure& metric,
                      bool lowerScoreIsBetter, bool isReference, const Simultaneous& comparisons, double accuracySe,
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
void addLevelSetting(const PoolLadder& ladder, const MetricMaps& maps, const CompareOptions& options,
                     const Figure& level, double at, ComparisonRow& row) {
  for (const char* field : {"power_limit_w", "fan_duty"}) {
    std::vector<Rung> rungs;
    for (const Pool& pool : ladder.rungs) {
      const auto set = pool.first().run.facts.conditionNumber(field);
      const Pooled x = withScatter(pooled(pool, maps, level, repeatabilityOf(options, level)));
      if (set && x.n > 0) rungs.push_back({*set, x.mean, 0, x.variance, x.degrees});
    }
    const bool isWalked =
        std::any_of(rungs.begin(), rungs.end(), [&](const Rung& rung) { return rung.x != rungs.front().x; });
    if (!isWalked) continue;
    row.levelField = field;
    const ReadOff setting = settingThatMeets(rungs, at, level.unit());
    const double half = studentT95(setting.degrees) * std::sqrt(setting.variance);
    row.levelSetting = setting.value;
    row.levelSettingLow = setting.value - half;
    row.levelSettingHigh = setting.value + half;
    return;
  }
}

// A row without its figures.
ComparisonRow namedRow(const PoolLadder& ladder) {
  ComparisonRow row;
  row.run = ladder.rungs.front().first().run.name;
  row.setup = ladder.name;
  row.load = ladder.load;
  for (const AnalyzedRun* run : runsOf(ladder)) row.runs.push_back(run->run.name);
  row.repeats = static_cast<int>(row.runs.size());
  return row;
}

// What the ladders that are held against the reference at this level share with it.
Simultaneous comparisonsAt(const std::vector<ReadOff>& reads, size_t reference) {
  Simultaneous all;
  const double others = reads[reference].variance;
  for (size_t i = 0; i < reads.size(); ++i) {
    if (i == reference || std::isnan(reads[i].value)) continue;
    const double both = reads[i].variance + others;
    all.referenceShares.push_back(both > 0 ? others / both : 0);
  }
  return all;
}

/// The ladders of a comparison, the level, and which of them is the reference.
struct LevelledField {
  const std::vector<PoolLadder>& ladders;
  size_t reference = 0;
  const Figure& level;
  double at = kMissing;
};

// One figure of every ladder at the level, each against the reference's.
void addLevelled(const LevelledField& field, const MetricMaps& maps, const CompareOptions& options, const Figure& name,
                 std::vector<ComparisonRow>& rows) {
  const PoolLadder& reference = field.ladders[field.reference];
  std::vector<ReadOff> reads;
  for (const PoolLadder& ladder : field.ladders) {
    reads.push_back(
        readOff(rungsOf(ladder, maps, options, field.level, name), field.at, field.level.title(), field.level.unit()));
  }
  const Simultaneous comparisons = comparisonsAt(reads, field.reference);
  const bool lowerScoreIsBetter = reference.rungs.front().first().run.facts.lowerScoreIsBetter;
  for (size_t i = 0; i < field.ladders.size(); ++i) {
    const PoolLadder& ladder = field.ladders[i];
    const bool isReference = i == field.reference;
    MetricRow metric =
        levelledRow(reads[i], reads[field.reference], options, name, lowerScoreIsBetter, isReference, comparisons,
                    accuracyOn(ladder, maps, name),
                    isAssumedOn(ladder, maps, options, name) || isAssumedOn(reference, maps, options, name));
    if (!isReference) {
      refuseUnequalWork(metric, runsOf(ladder), runsOf(reference), name);
      refuseOtherWay(metric, runsOf(ladder), runsOf(reference), name);
    }
    if (std::isnan(reads[i].value)) {
      metric.verdict = Verdict::NotComparable;
      metric.reason = fmt::format("{} was not measured at {:.4g} {}: {}.", ladder.name, field.at, field.level.unit(),
                                  reads[i].reason);
    }
    rows[i].metrics[name] = metric;
  }
}

}  // namespace

bool isFirstRung(const std::vector<Pool>& pools, const Pool& pool) {
  for (const PoolLadder& ladder : laddersOf(pools)) {
    if (ladder.rungs.front().runs.front() == pool.runs.front()) return true;
  }
  return false;
}

// Replaces the rows by one a ladder, each read off at the same level.
void levelField(Comparison& comparison, const std::vector<Pool>& pools, const Pool& reference, const MetricMaps& maps,
                const CompareOptions& options) {
  const std::vector<PoolLadder> ladders = laddersOf(pools);
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
  comparison.rows.clear();
  comparison.equalBy = level;
  comparison.equalAt = at;
  comparison.equalFrom = from;
  comparison.equalTo = to;
  for (const PoolLadder& ladder : ladders) {
    comparison.rows.push_back(namedRow(ladder));
    addLevelSetting(ladder, maps, options, level, at, comparison.rows.back());
  }
  const LevelledField field{ladders, ladderWith(ladders, reference.first()), level, at};
  for (const Figure& name : metricNames(maps, options)) {
    if (name != level) addLevelled(field, maps, options, name, comparison.rows);
  }
}

}  // namespace ash
