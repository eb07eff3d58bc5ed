// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/factors.h"

#include <algorithm>
#include <cmath>

#include "analysis/comparison/compare_rows.h"

namespace ash {
namespace {

Json levelsBeside(const AnalyzedRun& run, const std::vector<std::string>& factors, const std::string& factor) {
  Json others = Json::object();
  for (const std::string& other : factors) {
    if (other != factor) others[other] = factorLevel(run, other);
  }
  return others;
}

/// Two setups that differ in one factor and in no other.
struct Pair {
  Json others;
  const Pool* setup = nullptr;
  const Pool* reference = nullptr;
};

std::vector<Pair> pairsOf(const std::vector<Pool>& pools, const std::vector<std::string>& factors,
                          const std::string& factor, const Json& level, const Json& against) {
  std::vector<Pair> pairs;
  for (const Pool& pool : pools) {
    if (factorLevel(pool.first(), factor) != level) continue;
    const Json others = levelsBeside(pool.first(), factors, factor);
    for (const Pool& reference : pools) {
      if (factorLevel(reference.first(), factor) != against) continue;
      if (levelsBeside(reference.first(), factors, factor) != others) continue;
      pairs.push_back({others, &pool, &reference});
      break;
    }
  }
  return pairs;
}

/// The pair held against each other by compareRuns(), with all its checks.
FactorEffect::Within comparePair(const Pair& pair, const CompareOptions& options, size_t comparisons) {
  CompareOptions own = options;
  own.reference = pair.reference->first().run.name;
  own.comparisonsBeside = comparisons - 1;
  std::vector<const AnalyzedRun*> runs = pair.reference->runs;
  runs.insert(runs.end(), pair.setup->runs.begin(), pair.setup->runs.end());
  FactorEffect::Within within{pair.others, {}, pair.reference->setup};
  if (const auto comparison = compareRuns(runs, own)) {
    for (const ComparisonRow& row : comparison->rows) {
      if (row.setup == pair.setup->setup && row.load == pair.setup->load) within.row = row;
    }
  }
  return within;
}

bool isFigure(const MetricRow& row) {
  return std::isfinite(row.difference) && row.verdict != Verdict::NotComparable && row.bound == Bound::None;
}

// The mean difference over the levels of the others, each counted alike, and whether the levels disagree.
void addMean(FactorEffect& effect, const std::vector<Pair>& pairs, const MetricMaps& maps,
             const CompareOptions& options, const Figure& metric, size_t levelsBeside) {
  std::vector<Pooled> differences;
  for (size_t i = 0; i < pairs.size(); ++i) {
    const auto row = effect.within[i].row.metrics.find(metric);
    if (row == effect.within[i].row.metrics.end() || !isFigure(row->second)) return;
    const double scatter = repeatabilityOf(options, metric);
    differences.push_back(differenceOf(pooled(*pairs[i].setup, maps, metric, scatter),
                                       pooled(*pairs[i].reference, maps, metric, scatter)));
  }
  if (differences.size() < 2) return;
  const auto count = static_cast<double>(differences.size());
  Pooled mean{0, 0, INFINITY, kMissing, 2};
  double denominator = 0;
  for (const Pooled& one : differences) {
    mean.mean += one.mean / count;
    const double variance = one.variance / (count * count);
    mean.variance += variance;
    mean.isAssumed |= one.isAssumed;
    denominator += variance * variance / one.degrees;
  }
  if (denominator > 0) mean.degrees = mean.variance * mean.variance / denominator;
  const bool isLowerBetter = pairs.front().setup->first().run.facts.lowerScoreIsBetter;
  MetricRow row;
  judgeDifference(row, mean, Pooled{0, 0, INFINITY, kMissing, 2}, options, metric, metric.better(isLowerBetter),
                  independent(levelsBeside));
  effect.mean[metric] = row;
  const size_t pairings = differences.size() * (differences.size() - 1) / 2;
  for (size_t i = 0; i < differences.size(); ++i) {
    for (size_t j = i + 1; j < differences.size(); ++j) {
      const DifferenceInterval apart = differenceInterval(differences[i], differences[j], independent(pairings));
      if (apart.low > 0 || apart.high < 0) {
        effect.dependsOnOthers.insert(metric);
        return;
      }
    }
  }
}

std::vector<Json> levelsOf(const std::vector<Pool>& pools, const std::string& factor) {
  std::vector<Json> levels;
  for (const Pool& pool : pools) {
    const Json level = factorLevel(pool.first(), factor);
    if (std::find(levels.begin(), levels.end(), level) == levels.end()) levels.push_back(level);
  }
  return levels;
}

}  // namespace

Json factorLevel(const AnalyzedRun& run, const std::string& field) {
  const RunFacts& facts = run.run.facts;
  if (field == "load") return facts.load;
  if (field == "machine") return valueIn(facts.machine, "name", Json());
  return valueIn(facts.conditions, field.c_str(), Json());
}

std::vector<std::string> factorsOf(const std::vector<Pool>& pools) {
  std::vector<std::string> factors;
  for (const Pool& pool : pools) {
    for (const std::string& field : pool.first().run.facts.underTest) {
      const bool isKnown = std::find(factors.begin(), factors.end(), field) != factors.end();
      if (!isKnown && levelsOf(pools, field).size() > 1) factors.push_back(field);
    }
  }
  return factors;
}

std::vector<FactorEffect> factorEffects(const std::vector<Pool>& pools, const Pool& reference, const MetricMaps& maps,
                                        const CompareOptions& options) {
  std::vector<FactorEffect> effects;
  const std::vector<std::string> factors = factorsOf(pools);
  if (factors.size() < 2) return effects;
  for (const std::string& factor : factors) {
    const Json against = factorLevel(reference.first(), factor);
    const std::vector<Json> levels = levelsOf(pools, factor);
    for (const Json& level : levels) {
      if (level == against) continue;
      const std::vector<Pair> pairs = pairsOf(pools, factors, factor, level, against);
      if (pairs.empty()) continue;
      FactorEffect effect{factor, level, against, {}, {}, {}};
      const size_t comparisons = pairs.size() * (levels.size() - 1);
      for (const Pair& pair : pairs) effect.within.push_back(comparePair(pair, options, comparisons));
      for (const Figure& metric : metricNames(maps, options))
        addMean(effect, pairs, maps, options, metric, levels.size() - 1);
      effects.push_back(std::move(effect));
    }
  }
  return effects;
}

}  // namespace ash
