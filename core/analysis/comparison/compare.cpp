// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/compare.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/compare_rows.h"
#include "analysis/comparison/equal_work.h"
#include "analysis/comparison/factors.h"
#include "analysis/comparison/same_way.h"
#include "analysis/comparison/taking_part.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

// A device at its limit shows its limit, not how hot it would get: its true figure lies beyond.
bool isPinned(const Pool& pool, const Figure& metric) {
  const Device& device = metric.device();
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

// The kelvin that a run of the pool that had not settled still had to go; 0 when all had. Beside repeats that had, one
// that was as near to its end, only less surely, says no more than they do.
double leftK(const Pool& pool) {
  const bool hasAnySettled =
      std::any_of(pool.runs.begin(), pool.runs.end(), [](const AnalyzedRun* run) { return leftOf(*run) == 0; });
  for (const AnalyzedRun* run : pool.runs) {
    const double left = leftOf(*run);
    if (std::abs(left) > (hasAnySettled ? kSettledWithinK : 0)) return left;
  }
  return 0;
}

bool wasCutShort(const Pool& pool) {
  return std::any_of(pool.runs.begin(), pool.runs.end(), [](const AnalyzedRun* run) { return !didComplete(*run); });
}

// +1: the true value lies above the one shown, -1: below, 0: it is what it is.
int trueSide(const Pool& pool, const Figure& metric) {
  if (metric.kind().warming == WhileWarming::Same) return 0;
  const double left = isPinned(pool, metric) ? 1 : leftK(pool);
  if (left == 0) return 0;
  return (left > 0) == (metric.kind().warming == WhileWarming::Above) ? 1 : -1;
}

void addAssumption(MetricRow& row, const Figure& metric) {
  if (row.isAssumed) row.reason += (row.reason.empty() ? "" : " ") + assumptionWords(metric);
}

void addBound(MetricRow& row, const Pool& pool, const Pool& reference, const Figure& metric) {
  const int own = trueSide(pool, metric);
  const int others = trueSide(reference, metric);
  if (own == 0 && others == 0) return;
  if (own != 0 && others != 0) {
    row.verdict = Verdict::NotComparable;
    row.reason = "Both were at their limit or had not settled, so neither figure is where it would end.";
    return;
  }
  const int side = own != 0 ? own : -others;
  row.bound = side > 0 ? Bound::AtLeast : Bound::AtMost;
  const std::string who = own != 0 ? pool.setup : reference.setup;
  const std::string why = isPinned(own != 0 ? pool : reference, metric) ? "was at its limit" : "had not settled";
  // A bound that lies on the other side of nothing shows nothing: the true difference may be zero, or have another
  // sign.
  const bool showsIt = side > 0 ? row.differenceLow > 0 : row.differenceHigh < 0;
  if (!showsIt) {
    row.verdict = Verdict::NotComparable;
    row.reason = fmt::format("{} {}: the true difference is {} the one shown, which decides nothing.", who, why,
                             wordsOf(row.bound));
    return;
  }
  row.reason = fmt::format("{} {}: the true difference is {} the one shown.", who, why, wordsOf(row.bound));
  addAssumption(row, metric);
}

// What a finding says nothing about: a missing room, say, is none of the noise.
bool concernsFigure(CheckKind check, const Concerns& concerns) {
  return check == CheckKind::Room        ? concerns.room
         : check == CheckKind::PowerRole ? concerns.power
         : check == CheckKind::Outcome   ? concerns.window
                                         : true;
}

void applyBlocks(ComparisonRow& row, const Comparison& comparison, const std::string& referenceRun) {
  for (const ComparisonCheck& check : comparison.checks) {
    const bool concerns = std::find(check.between.begin(), check.between.end(), row.run) != check.between.end();
    if (check.severity != Severity::Block || !concerns || row.run == referenceRun) continue;
    for (auto& [name, metric] : row.metrics) {
      if (!concernsFigure(check.kind, name.kind().concerns)) continue;
      metric.verdict = Verdict::NotComparable;
      metric.reason = check.text;
    }
  }
}

// A run that was stopped is no measurement of the setup (contract, "Comparison verdict"), but what there is can be
// seen.
void checkCutShort(const Pool& pool, const Pool& reference, const std::vector<Pool>& pools, Comparison& comparison) {
  const AnalyzedRun& run = pool.first();
  // A reference that was stopped is none for anybody.
  std::vector<std::string> between = {reference.first().run.name};
  for (const Pool& other : pools) {
    const bool isMeant = &pool == &reference ? &other != &reference : &other == &pool;
    if (isMeant) between.push_back(other.first().run.name);
  }
  comparison.checks.push_back({Severity::Block, between, CheckKind::Outcome,
                               fmt::format("The run of {} did not complete ({}): repeat it before you compare.",
                                           pool.setup, outcomeText(*run.run.facts.outcome))});
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

/// One figure of every setup, the reference among them, with the scatter that is to count.
struct Field {
  std::vector<Pooled> setups;
  size_t reference = 0;
};

Field fieldOf(const std::vector<Pool>& pools, const Pool& reference, const MetricMaps& maps,
              const CompareOptions& options, const Figure& metric) {
  Field field;
  const double repeatability = repeatabilityOf(options, metric);
  for (const Pool& pool : pools) {
    if (&pool == &reference) field.reference = field.setups.size();
    field.setups.push_back(pooled(pool, maps, metric, repeatability));
  }
  if (options.confidenceByRepeats.empty()) return field;
  const CommonScatter common = commonScatter(field.setups, repeatability);
  for (Pooled& setup : field.setups) setup = withCommonScatter(std::move(setup), common);
  return field;
}

// How sure an interval has to be after so many repeats.
double confidenceAfter(const CompareOptions& options, size_t repeats) {
  const auto& byRepeats = options.confidenceByRepeats;
  return byRepeats[std::min(repeats, byRepeats.size() - 1)];
}

// The setups that are held against the reference by this figure.
Simultaneous comparisonsOf(const Field& field, const Pooled& own, const CompareOptions& options) {
  // How sure each has to be was settled before the first run, for all setups there would be.
  if (!options.confidenceByRepeats.empty())
    return {{}, 1, confidenceAfter(options, std::min(own.n, field.setups[field.reference].n))};
  Simultaneous all{{}, options.comparisonsBeside};
  const Pooled& others = field.setups[field.reference];
  for (size_t i = 0; i < field.setups.size(); ++i) {
    if (i != field.reference && field.setups[i].n > 0)
      all.referenceShares.push_back(referenceShare(field.setups[i], others));
  }
  return all;
}

ComparisonRow makeRow(const Pool& pool, const Pool& reference, const MetricMaps& maps, const CompareOptions& options,
                      const std::vector<Pool>& pools) {
  ComparisonRow row;
  row.run = pool.first().run.name;
  row.setup = pool.setup;
  row.load = pool.load;
  if (isOtherWay(pool.first(), reference.first())) {
    row.way = wayText(pool.first(), reference.first());
    row.referenceWay = wayText(reference.first(), pool.first());
  }
  row.repeats = static_cast<int>(pool.runs.size());
  for (const AnalyzedRun* run : pool.runs) row.runs.push_back(run->run.name);
  for (const Figure& name : metricNames(maps, options)) {
    const Field field = fieldOf(pools, reference, maps, options, name);
    const Pooled& own = field.setups[static_cast<size_t>(&pool - pools.data())];
    const Pooled& others = field.setups[field.reference];
    MetricRow metric;
    if (own.n == 0 && options.metrics.empty()) continue;
    metric.value = own.mean;
    metric.isEstimate = own.isEstimate;
    if (own.n > 0) setInterval(metric, withAccuracy(withScatter(own)), name);
    if (&pool != &reference) {
      if (own.n == 0 || others.n == 0) {
        metric.verdict = Verdict::NotComparable;
        metric.reason = fmt::format("{} has no {}.", own.n == 0 ? pool.setup : reference.setup, name.code());
      } else {
        // What one instrument is off by is in both figures and cancels; two instruments are off each in its own way.
        const bool isOneInstrument = own.instrument == others.instrument;
        judgeDifference(metric, isOneInstrument ? own : withAccuracy(own),
                        isOneInstrument ? others : withAccuracy(others), options, name,
                        name.better(pool.first().run.facts.lowerScoreIsBetter), comparisonsOf(field, own, options));
        addBound(metric, pool, reference, name);
        refuseUnequalWork(metric, pool.runs, reference.runs, name);
        refuseOtherWay(metric, pool.runs, reference.runs, name);
      }
    }
    row.metrics[name] = metric;
  }
  return row;
}

double marginOf(const CompareOptions& options, const Figure& metric) {
  const auto own = options.margins.find(metric);
  if (own != options.margins.end()) return own->second;
  return options.temperatureMargin && metric.isTemperature() ? *options.temperatureMargin : 0;
}

// A name that is in no run, and in no row of the catalogue or of no device, is a slip of the pen: to compare nothing by
// it would hide that.
Status checkNames(const MetricMaps& maps, const CompareOptions& options) {
  std::vector<Figure> asked = options.metrics;
  for (const auto& [figure, margin] : options.margins) asked.push_back(figure);
  for (const auto& [figure, scatter] : options.repeatability) asked.push_back(figure);
  for (const Figure& figure : asked) {
    const bool isThere =
        std::any_of(maps.begin(), maps.end(), [&](const auto& entry) { return entry.second.contains(figure); });
    const bool isOfNoDevice = figure.kind().isOfDevice && figure.device().is(DeviceKind::Other);
    if (isThere || !isOfNoDevice) continue;
    std::string known;
    for (const Figure& one : metricNames(maps, {})) known += (known.empty() ? "" : ", ") + one.code();
    return Error::badInput(
        fmt::format("There is no figure \"{}\"; these runs have: {}.", asUtf8(figure.code()), known));
  }
  return {};
}

}  // namespace

void setInterval(MetricRow& row, const Pooled& figure, const Figure& metric) {
  const double half = halfWidth(figure);
  row.ciDegrees = figure.degrees;
  // A share lies between nothing and all.
  const bool isShare = metric.kind().scale != 1;
  row.ciLow = isShare ? std::max(0.0, figure.mean - half) : figure.mean - half;
  row.ciHigh = isShare ? std::min(1.0, figure.mean + half) : figure.mean + half;
}

std::string assumptionWords(const Figure& metric) {
  const Agreement& agreement = metric.kind().agreement;
  const std::string within = agreement.share > 0 ? fmt::format("{:g} %", 100 * agreement.share)
                             : metric.kind().scale != 1
                                 ? fmt::format("{:g} points", metric.kind().scale * agreement.amount)
                                 : fmt::format("{:g} {}", agreement.amount, metric.differenceUnit());
  return fmt::format("One run each, assuming that repeats agree within {}.", within);
}

double repeatabilityOf(const CompareOptions& options, const Figure& metric) {
  const auto own = options.repeatability.find(metric);
  if (own != options.repeatability.end()) return own->second;
  return options.temperatureRepeatability && metric.isTemperature() ? *options.temperatureRepeatability : kMissing;
}

void judgeDifference(MetricRow& row, const Pooled& a, const Pooled& reference, const CompareOptions& options,
                     const Figure& metric, Better better, const Simultaneous& comparisons) {
  const DifferenceInterval interval = differenceInterval(a, reference, comparisons);
  row.difference = a.mean - reference.mean;
  if (reference.mean != 0) row.differencePercent = 100 * row.difference / std::abs(reference.mean);
  row.differenceLow = interval.low;
  row.differenceHigh = interval.high;
  if (metric.kind().hasRatio && a.mean > 0 && reference.mean > 0) {
    const DifferenceInterval ratio = ratioInterval(a, reference, comparisons);
    row.ratio = a.mean / reference.mean;
    row.ratioLow = ratio.low;
    row.ratioHigh = ratio.high;
  }
  const double margin = marginOf(options, metric);
  row.verdict = verdictOf(interval.low, interval.high, margin, better, row.reason);
  if (row.verdict == Verdict::TooFewRepeats) row.reason = repeatsNeeded(a, reference, margin, comparisons);
  row.isAssumed = differenceOf(a, reference).isAssumed;
  addAssumption(row, metric);
}

std::vector<Figure> metricNames(const MetricMaps& maps, const CompareOptions& options) {
  if (!options.metrics.empty()) return options.metrics;
  std::vector<Figure> names;
  for (const auto& [run, metrics] : maps) {
    for (const auto& [name, value] : metrics) {
      if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
    }
  }
  std::sort(names.begin(), names.end());
  return names;
}

Verdict verdictOf(double low, double high, double margin, Better better, std::string& reason) {
  if (!std::isfinite(low) || !std::isfinite(high)) {
    reason = "The interval of the difference cannot be told.";
    return Verdict::NotComparable;
  }
  const auto direction = [&](bool isAbove) {
    if (better == Better::Neither) return isAbove ? Verdict::Higher : Verdict::Lower;
    return isAbove == (better == Better::Higher) ? Verdict::Better : Verdict::Worse;
  };
  const bool containsZero = low <= 0 && high >= 0;
  if (containsZero && (margin <= 0 || (low >= -margin && high <= margin))) return Verdict::WithinMargin;
  if (low >= -margin && high <= margin) return Verdict::WithinMargin;
  if (containsZero) return Verdict::TooFewRepeats;
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
  std::vector<Pool> pools = takePart(runs, comparison);
  if (pools.empty()) return Error::badInput("There is no run to compare: all of them are void.");
  const auto referenceIndex = findReference(pools, options.reference);
  if (!referenceIndex) return referenceIndex.error();
  const Pool& reference = pools[*referenceIndex];
  comparison.reference = options.reference.empty() ? reference.first().run.name : options.reference;
  comparison.lowerScoreIsBetter = reference.first().run.facts.lowerScoreIsBetter;
  MetricMaps maps;
  for (const Pool& pool : pools) {
    for (const AnalyzedRun* run : pool.runs) maps[run] = metricsOf(run->run, run->figures);
  }
  if (Status named = checkNames(maps, options); !named) return named.error();
  bringNoiseTogether(pools, reference, maps, comparison);
  for (const Pool& pool : pools) {
    if (wasCutShort(pool)) checkCutShort(pool, reference, pools, comparison);
    if (&pool == &reference) continue;
    // Of a ladder the first rung stands for all: that the others are set otherwise is what makes it one.
    if (options.equal.what != EqualBy::What::None && !isFirstRung(pools, pool)) continue;
    checkLikeForLike(reference.first(), pool.first(), reference.first().run.name, pool.first().run.name, comparison);
  }
  for (const Pool& pool : pools) {
    comparison.rows.push_back(makeRow(pool, reference, maps, options, pools));
    applyBlocks(comparison.rows.back(), comparison, reference.first().run.name);
  }
  findSuspicious(pools, maps, comparison);
  if (options.equal.what == EqualBy::What::None) comparison.factors = factorEffects(pools, reference, maps, options);
  if (options.equal.what != EqualBy::What::None) levelField(comparison, pools, reference, maps, options);
  findSideEffects(comparison, Role(reference.first().figures.watched).device());
  return comparison;
}

}  // namespace ash
