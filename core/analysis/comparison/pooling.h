// SPDX-License-Identifier: GPL-3.0-or-later
// Repeats of one setup taken together, and what the difference of two such means can be.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "analysis/comparison/compare.h"
#include "analysis/comparison/simultaneous.h"

namespace ash {

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
  double accuracySe = 0;        ///< of the instruments, not in the variance: it does not shrink with repeats
  std::string instrument = {};  ///< which they are, where named
  bool isEstimate = false;
  double assumedSd = 0;    ///< of a single run: scatter between repeats where nothing tells it
  bool isAssumed = false;  ///< that is what its sd is
  bool isCommon = false;   ///< its scatter was worked out of all setups: two such know no more together than one
};

/// A single run whose scatter nothing tells, with the assumed one.
Pooled withScatter(Pooled figure);

/// With the instruments' accuracy in its variance (its degrees of freedom: infinite).
Pooled withAccuracy(Pooled figure);

/// Mean and variance of values over repeats, each with its own standard error. Repeats that agree better than each can
/// be told are no surer than that; a single one scatters by `repeatability` if that is more than its own error.
Pooled pooledValues(const std::vector<double>& values, const std::vector<double>& errors,
                    double repeatability = kMissing);

/// What repeats scatter, taken from several setups together.
struct CommonScatter {
  double sd = kMissing;
  double degrees = 0;
};

/// The scatter of all these setups' repeats, and of a standard deviation that is stated (missing = none), which counts
/// like eight repeats more.
CommonScatter commonScatter(const std::vector<Pooled>& setups, double stated);

/// A figure that scatters as all do: its variance and degrees of freedom from the common scatter. One whose own repeats
/// scatter more than chance would have it (F-test, 1 %) keeps its own.
Pooled withCommonScatter(Pooled figure, const CommonScatter& common);

/// Half of the 95 % interval of the mean.
double halfWidth(const Pooled& figure);

using MetricMaps = std::map<const AnalyzedRun*, MetricValues>;

/// Mean and variance over repeats. Repeats that agree better than each can be told are no surer than that; a single run
/// scatters by `repeatability` (standard deviation, missing = not stated) if that is more than its own uncertainty.
Pooled pooled(const Pool& pool, const MetricMaps& maps, const Figure& metric, double repeatability = kMissing);

struct DifferenceInterval {
  double low = kMissing, high = kMissing;
};

/// Interval of a − reference (B. L. Welch, Biometrika 34, 1947; degrees of freedom by Satterthwaite). Where one side is
/// a single run, it is taken to scatter like the repeats of the other. Of several comparisons all intervals together
/// are right in 95 of 100 studies.
DifferenceInterval differenceInterval(Pooled a, Pooled reference, const Simultaneous& comparisons = independent(1));

/// What the reference adds to the variance of a difference, as a share of it, 0 … 1.
double referenceShare(Pooled a, Pooled reference);

/// The difference itself as a figure, with the variance and degrees of freedom of the interval above.
Pooled differenceOf(Pooled a, Pooled reference);

/// Interval of a/reference (E. C. Fieller, J. R. Stat. Soc. B 16, 1954), with Welch's degrees of freedom. Missing where
/// the reference is not told from zero.
DifferenceInterval ratioInterval(const Pooled& a, const Pooled& reference,
                                 const Simultaneous& comparisons = independent(1));

/// Repeats of each side that would bring the interval inside the margin, as a sentence.
std::string repeatsNeeded(const Pooled& a, const Pooled& reference, double margin,
                          const Simultaneous& comparisons = independent(1));

bool didComplete(const AnalyzedRun& run);

// Findings of compareRuns(), each in a file of its own.

/// Repeats that disagree, remounts that got worse, resistances that change inside a run, first mounts that hardly
/// differ.
void findSuspicious(const std::vector<Pool>& pools, const MetricMaps& maps, Comparison& comparison);
/// The worst that happened to a device nobody watches.
void findSideEffects(Comparison& comparison, const Device& watchedDevice);

}  // namespace ash
