// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/compare.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

/// Repeats of one setup under one load.
struct Pool {
  std::string setup, load;
  std::vector<const AnalyzedRun*> runs;
  const AnalyzedRun& first() const { return *runs.front(); }
};

/// A metric over the repeats of a pool.
struct Pooled {
  double mean = kMissing;
  double variance = 0;  ///< of the mean
  double degrees = INFINITY;
  double sd = kMissing;  ///< between repeats; missing for a single run
  size_t n = 0;
  double half() const { return studentT95(degrees) * std::sqrt(variance); }
};

std::string setupOf(const RunLog& run) { return run.facts.setup.empty() ? run.name : run.facts.setup; }

std::vector<Pool> poolRuns(const std::vector<const AnalyzedRun*>& runs, Comparison& comparison) {
  std::vector<Pool> pools;
  for (const AnalyzedRun* each : runs) {
    const AnalyzedRun& run = *each;
    if (run.run.facts.outcome == "void") {
      comparison.checks.push_back({"info",
                                   {run.run.name},
                                   "void",
                                   fmt::format("{} is void{} and takes no part.", run.run.name,
                                               run.run.facts.reason.empty() ? "" : " (" + run.run.facts.reason + ")")});
      continue;
    }
    const std::string setup = setupOf(run.run);
    const auto pool = std::find_if(pools.begin(), pools.end(),
                                   [&](const Pool& p) { return p.setup == setup && p.load == run.run.facts.load; });
    if (pool != pools.end())
      pool->runs.push_back(&run);
    else
      pools.push_back({setup, run.run.facts.load, {&run}});
  }
  return pools;
}

bool didComplete(const AnalyzedRun& run) {
  const std::string& outcome = run.run.facts.outcome;
  return outcome.empty() || outcome == "completed" || outcome == "running";
}

// A repeat that was cut short has another window than those that were not: it takes no part where there are such.
void leaveOutCutShort(std::vector<Pool>& pools, Comparison& comparison) {
  for (Pool& pool : pools) {
    const auto isDone = [](const AnalyzedRun* run) { return didComplete(*run); };
    if (std::none_of(pool.runs.begin(), pool.runs.end(), isDone)) continue;
    for (const AnalyzedRun* run : pool.runs) {
      if (didComplete(*run)) continue;
      comparison.checks.push_back(
          {"warn",
           {run->run.name},
           "outcome",
           fmt::format("A repeat of {} did not complete ({}) and takes no part.", pool.setup, run->run.facts.outcome)});
    }
    std::erase_if(pool.runs, [](const AnalyzedRun* run) { return !didComplete(*run); });
  }
}

using MetricMaps = std::map<const AnalyzedRun*, std::map<std::string, MetricValue>>;

Pooled pooled(const Pool& pool, const MetricMaps& maps, const std::string& metric) {
  std::vector<double> values;
  double ownVariance = 0;
  for (const AnalyzedRun* run : pool.runs) {
    const auto& metrics = maps.at(run);
    const auto found = metrics.find(metric);
    if (found == metrics.end()) continue;
    values.push_back(found->second.value);
    ownVariance += found->second.se * found->second.se;
  }
  Pooled result;
  result.n = values.size();
  if (values.empty()) return result;
  const auto n = static_cast<double>(values.size());
  result.mean = meanOf(values);
  if (values.size() == 1) {
    result.variance = ownVariance;
    return result;
  }
  double sum = 0;
  for (const double value : values) sum += (value - result.mean) * (value - result.mean);
  result.sd = std::sqrt(sum / (n - 1));
  // Repeats that agree better than each can be told are no surer than that.
  const double between = result.sd * result.sd / n;
  result.variance = std::max(between, ownVariance / (n * n));
  result.degrees = between >= result.variance ? n - 1 : INFINITY;
  return result;
}

struct DifferenceInterval {
  double low = kMissing, high = kMissing;
};

// Welch's interval (Welch 1947) where both sides have repeats. Where one side is a single run, it is taken to scatter
// like the repeats of the other.
DifferenceInterval differenceInterval(Pooled a, Pooled reference) {
  const auto lend = [](Pooled& to, const Pooled& from) {
    if (to.n != 1 || !std::isfinite(from.sd)) return;
    to.variance = std::max(to.variance, from.sd * from.sd);
    to.degrees = static_cast<double>(from.n) - 1;
  };
  lend(a, reference);
  lend(reference, a);
  const double variance = a.variance + reference.variance;
  double degrees = INFINITY;
  const double denominator =
      a.variance * a.variance / a.degrees + reference.variance * reference.variance / reference.degrees;
  if (denominator > 0) degrees = variance * variance / denominator;
  const double half = studentT95(degrees) * std::sqrt(variance);
  const double difference = a.mean - reference.mean;
  return {difference - half, difference + half};
}

bool isThermalMetric(const std::string& metric) {
  return isTemperatureMetric(metric) || metric.ends_with(".resistance_k_per_w") || metric.ends_with(".headroom_w");
}

// A device at its limit shows its limit, not how hot it would get: its true figure lies beyond.
bool isPinned(const Pool& pool, const std::string& metric) {
  const std::string device = metric.substr(0, metric.rfind('.'));
  for (const AnalyzedRun* run : pool.runs) {
    if (!run->figures.window) continue;
    for (const Throttling& throttling : run->figures.throttling) {
      if (throttling.device != device) continue;
      for (const ThrottleInterval& interval : throttling.intervals) {
        const bool inWindow = interval.span.startS < run->figures.window->span.endS &&
                              interval.span.endS > run->figures.window->span.startS;
        if (interval.cause == Cause::Thermal && inWindow) return true;
      }
    }
  }
  return false;
}

bool isUnsettled(const Pool& pool) {
  for (const AnalyzedRun* run : pool.runs) {
    const ChannelFigures* watched = run->figures.channel(run->figures.watched);
    if (watched != nullptr && watched->settled && !watched->settled->isSettled && run->figures.load) return true;
  }
  return false;
}

bool wasCutShort(const Pool& pool) {
  return std::any_of(pool.runs.begin(), pool.runs.end(), [](const AnalyzedRun* run) { return !didComplete(*run); });
}

// +1: the true value lies above the one shown, -1: below, 0: it is what it is.
int trueSide(const Pool& pool, const std::string& metric) {
  if (metric.ends_with(".resistance_k_per_w")) return 0;
  const bool rises = metric.ends_with(".temp") || metric.ends_with(".over_ambient_k") || metric.ends_with(".peak_c");
  const bool falls = metric.ends_with(".headroom_k");
  if (!rises && !falls) return 0;
  if (!isPinned(pool, metric) && !isUnsettled(pool)) return 0;
  return rises ? 1 : -1;
}

double marginOf(const CompareOptions& options, const std::string& metric) {
  const auto own = options.margins.find(metric);
  if (own != options.margins.end()) return own->second;
  return options.temperatureMargin && isTemperatureMetric(metric) ? *options.temperatureMargin : 0;
}

std::string repeatsNeeded(const Pooled& a, const Pooled& reference, double margin) {
  const double sd = std::isfinite(a.sd) ? a.sd : reference.sd;
  if (!std::isfinite(sd) || margin <= 0 || sd <= 0)
    return "Repeat each setup, so that the scatter between repeats is known.";
  // The half width t·sd·√(2/n) has to come below the margin.
  for (int n = 2; n <= 100; ++n) {
    if (studentT95(2.0 * n - 2) * sd * std::sqrt(2.0 / n) < margin)
      return fmt::format("{} repeats of each would do.", n);
  }
  return "More than 100 repeats of each would be needed.";
}

void judge(MetricRow& row, const Pooled& a, const Pooled& reference, const CompareOptions& options,
           const std::string& metric, Better better) {
  const DifferenceInterval interval = differenceInterval(a, reference);
  row.difference = a.mean - reference.mean;
  if (reference.mean != 0) row.differencePercent = 100 * row.difference / std::abs(reference.mean);
  row.differenceLow = interval.low;
  row.differenceHigh = interval.high;
  const double margin = marginOf(options, metric);
  row.verdict = verdictOf(interval.low, interval.high, margin, better, row.reason);
  if (row.verdict == "too few repeats") row.reason = repeatsNeeded(a, reference, margin);
}

void addBound(MetricRow& row, const Pool& pool, const Pool& reference, const std::string& metric) {
  const int own = trueSide(pool, metric);
  const int others = trueSide(reference, metric);
  if (own == 0 && others == 0) return;
  if (own != 0 && others != 0) {
    row.verdict = "not comparable";
    row.reason = "Both were at their limit or had not settled, so neither figure is where it would end.";
    return;
  }
  const int side = own != 0 ? own : -others;
  row.bound = side > 0 ? "at least" : "at most";
  const std::string who = own != 0 ? pool.setup : reference.setup;
  const std::string why = isPinned(own != 0 ? pool : reference, metric) ? "was at its limit" : "had not settled";
  row.reason = fmt::format("{} {}: the true difference is {} the one shown.", who, why, row.bound);
}

void applyBlocks(ComparisonRow& row, const Comparison& comparison, const std::string& referenceRun) {
  for (const ComparisonCheck& check : comparison.checks) {
    const bool concerns = std::find(check.between.begin(), check.between.end(), row.run) != check.between.end();
    if (check.severity != "block" || !concerns || row.run == referenceRun) continue;
    for (auto& [name, metric] : row.metrics) {
      const bool onlyThermal = check.what == "room";
      if (onlyThermal && !isThermalMetric(name)) continue;
      metric.verdict = "not comparable";
      metric.reason = check.text;
    }
  }
}

std::vector<std::string> metricNames(const MetricMaps& maps, const CompareOptions& options) {
  if (!options.metrics.empty()) return options.metrics;
  std::vector<std::string> names;
  for (const auto& [run, metrics] : maps) {
    for (const auto& [name, value] : metrics) {
      if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
    }
  }
  std::sort(names.begin(), names.end());
  return names;
}

Result<size_t> findReference(const std::vector<Pool>& pools, const std::string& wanted) {
  if (wanted.empty()) return size_t{0};
  for (size_t p = 0; p < pools.size(); ++p) {
    for (const AnalyzedRun* run : pools[p].runs) {
      if (run->run.name == wanted) return p;
    }
  }
  return Error::badInput(fmt::format("The reference \"{}\" is none of the runs that are compared.", wanted));
}

ComparisonRow makeRow(const Pool& pool, const Pool& reference, const MetricMaps& maps, const CompareOptions& options) {
  ComparisonRow row;
  row.run = pool.first().run.name;
  row.setup = pool.setup;
  row.load = pool.load;
  row.repeats = static_cast<int>(pool.runs.size());
  for (const AnalyzedRun* run : pool.runs) row.runs.push_back(run->run.name);
  for (const std::string& name : metricNames(maps, options)) {
    const Pooled own = pooled(pool, maps, name);
    MetricRow metric;
    if (own.n == 0 && options.metrics.empty()) continue;
    metric.value = own.mean;
    if (own.n > 0) {
      metric.ciLow = own.mean - own.half();
      metric.ciHigh = own.mean + own.half();
    }
    const Pooled others = pooled(reference, maps, name);
    if (&pool != &reference) {
      if (own.n == 0 || others.n == 0) {
        metric.verdict = "not comparable";
        metric.reason = fmt::format("{} has no {}.", own.n == 0 ? pool.setup : reference.setup, name);
      } else {
        judge(metric, own, others, options, name, betterDirection(name, pool.first().run.facts.lowerScoreIsBetter));
        addBound(metric, pool, reference, name);
      }
    }
    row.metrics[name] = metric;
  }
  return row;
}

}  // namespace

std::string verdictOf(double low, double high, double margin, Better better, std::string& reason) {
  if (!std::isfinite(low) || !std::isfinite(high)) {
    reason = "The interval of the difference cannot be told.";
    return "not comparable";
  }
  const auto direction = [&](bool isAbove) -> std::string {
    if (better == Better::Neither) return isAbove ? "higher" : "lower";
    return isAbove == (better == Better::Higher) ? "better" : "worse";
  };
  const bool containsZero = low <= 0 && high >= 0;
  if (containsZero && (margin <= 0 || (low >= -margin && high <= margin))) return "within margin";
  if (low >= -margin && high <= margin) return "within margin";
  if (containsZero) return "too few repeats";
  const bool isAbove = low > 0;
  if (isAbove ? low < margin : high > -margin) {
    reason = fmt::format("It may be negligible: the interval reaches inside the margin of {:g}.", margin);
  }
  return direction(isAbove);
}

const ComparisonRow* referenceRow(const Comparison& comparison) {
  for (const ComparisonRow& row : comparison.rows) {
    if (std::find(row.runs.begin(), row.runs.end(), comparison.reference) != row.runs.end()) return &row;
  }
  return comparison.rows.empty() ? nullptr : &comparison.rows.front();
}

Result<Comparison> compareRuns(const std::vector<AnalyzedRun>& runs, const CompareOptions& options) {
  std::vector<const AnalyzedRun*> each;
  for (const AnalyzedRun& run : runs) each.push_back(&run);
  return compareRuns(each, options);
}

Result<Comparison> compareRuns(const std::vector<const AnalyzedRun*>& runs, const CompareOptions& options) {
  Comparison comparison;
  for (const AnalyzedRun* run : runs) comparison.runs.push_back(run->run.name);
  std::vector<Pool> pools = poolRuns(runs, comparison);
  leaveOutCutShort(pools, comparison);
  if (pools.empty()) return Error::badInput("There is no run to compare: all of them are void.");
  const auto referenceIndex = findReference(pools, options.reference);
  if (!referenceIndex) return referenceIndex.error();
  const Pool& reference = pools[*referenceIndex];
  comparison.reference = options.reference.empty() ? reference.first().run.name : options.reference;
  MetricMaps maps;
  for (const Pool& pool : pools) {
    for (const AnalyzedRun* run : pool.runs) maps[run] = metricsOf(run->run, run->figures);
  }
  for (const Pool& pool : pools) {
    if (wasCutShort(pool)) {
      comparison.checks.push_back(
          {"warn",
           {pool.first().run.name},
           "outcome",
           fmt::format("A run of {} did not complete ({}); its figures come from what there is.", pool.setup,
                       pool.first().run.facts.outcome)});
    }
    if (&pool == &reference) continue;
    checkLikeForLike(reference.first(), pool.first(), reference.first().run.name, pool.first().run.name, comparison);
  }
  for (const Pool& pool : pools) {
    comparison.rows.push_back(makeRow(pool, reference, maps, options));
    applyBlocks(comparison.rows.back(), comparison, reference.first().run.name);
  }
  return comparison;
}

}  // namespace ash
