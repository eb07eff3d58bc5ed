// SPDX-License-Identifier: GPL-3.0-or-later
// Like with like: repeats pooled, differences against a reference with their interval, and a verdict in words.
#pragma once

#include <cmath>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "analysis/catalogue/metrics.h"
#include "analysis/comparison/verdict.h"
#include "analysis/run/figures.h"

namespace ash {

struct AnalyzedRun {
  RunLog run;
  Figures figures;
};

struct MetricRow {
  double value = kMissing, ciLow = kMissing, ciHigh = kMissing;
  double ciDegrees = INFINITY;  ///< of freedom, of that interval
  double difference = kMissing, differencePercent = kMissing, differenceLow = kMissing, differenceHigh = kMissing;
  /// Of two setups: value over the reference's, where both are above zero and a ratio means something (times, energies,
  /// scores, rates); the interval by E. C. Fieller (J. R. Stat. Soc. B 16, 1954). Missing where it has no bound.
  double ratio = kMissing, ratioLow = kMissing, ratioHigh = kMissing;
  bool isEstimate = false;  ///< of a noise that was brought to another distance by calculation
  bool isAssumed = false;   ///< how far repeats scatter is the catalogue's: one run each
  Bound bound = Bound::None;
  Verdict verdict = Verdict::None;
  std::string reason;
};

struct ComparisonRow {
  std::string run;  ///< the first of the repeats
  std::string setup;
  std::string load;
  std::string way, referenceWay;  ///< how it carried the load out, and how the reference did; empty where alike
  int repeats = 0;
  std::vector<std::string> runs;
  std::map<Figure, MetricRow> metrics;
  /// Of a levelled row: the setting that meets the level, read off between its rungs ("power_limit_w", 93.2).
  std::string levelField;
  double levelSetting = kMissing, levelSettingLow = kMissing, levelSettingHigh = kMissing;  ///< with its 95 % interval
};

struct FieldDifference {
  std::vector<std::string> between;
  std::string field;
  Json a, b;
};

/// What one of several factors does: a level of it against the reference's, within every level of the others.
struct FactorEffect {
  std::string factor;     ///< a field of the conditions, "load" or "machine"
  Json level, reference;  ///< what it is set to, and what it is held against
  struct Within {
    Json others;                 ///< what the other factors are set to
    ComparisonRow row;           ///< the setup with this level, held against …
    std::string referenceSetup;  ///< … the one with the reference's
  };
  std::vector<Within> within;
  /// The mean of the differences, each level of the others counted alike; only where all of them can be told.
  std::map<Figure, MetricRow> mean;
  std::set<Figure> dependsOnOthers;  ///< metrics whose differences are not the same within every level
};

struct Comparison {
  std::string reference;
  std::vector<std::string> runs;
  std::vector<ComparisonRow> rows;
  std::vector<ComparisonCheck> checks;
  bool lowerScoreIsBetter = false;  ///< of the reference: its scores are times
  std::vector<FieldDifference> whatDiffers;
  std::vector<FactorEffect> factors;                ///< of a study with at least two things under test
  std::optional<Figure> equalBy;                    ///< the figure the field was levelled by; none = compared as run
  double equalAt = kMissing;                        ///< in the metric's unit
  double equalFrom = kMissing, equalTo = kMissing;  ///< what every setup was measured at: levels that can be asked for
};

/// What the field is levelled by (ladder.h).
struct EqualBy {
  enum class What { None, Noise, Power, Fan } what = What::None;
  std::optional<double> at;  ///< dBA, W or RPM; none = the middle of what every ladder was measured at
};

struct CompareOptions {
  std::string reference;                    ///< run name; empty = the first
  std::vector<Figure> metrics;              ///< empty = all
  std::map<Figure, double> margins;         ///< by metric
  std::optional<double> temperatureMargin;  ///< a plain `--margin K`
  /// Standard deviation between repeats, as the study states it: for runs that have no repeats.
  std::map<Figure, double> repeatability;
  std::optional<double> temperatureRepeatability;
  EqualBy equal;  ///< what the field is levelled by before it is compared
  /// Of a study that runs until decided (decision/sequential.h): the confidence of each interval by the repeats
  /// of the setup that has fewer (index; the last counts for all that follow), for any number of setups together. Its
  /// setups then share one scatter: that of all their repeats, and of the stated repeatability. Empty = 0.95, each with
  /// its own scatter.
  std::vector<double> confidenceByRepeats;
  /// Comparisons that are made beside those with this reference: all of them together keep the confidence.
  size_t comparisonsBeside = 0;
};

/// Compares runs; void runs are left out with a check that says so. Needs at least one run that is not void.
Result<Comparison> compareRuns(const std::vector<AnalyzedRun>& runs, const CompareOptions& options);
Result<Comparison> compareRuns(const std::vector<const AnalyzedRun*>& runs, const CompareOptions& options);

/// What is assumed of a figure where there is one run a side: "One run each, assuming that repeats agree within 1 K."
std::string assumptionWords(const Figure& metric);

/// Which way of a figure is better here: a score may be a time.
inline Better betterOf(const Comparison& comparison, const Figure& metric) {
  return metric.better(comparison.lowerScoreIsBetter);
}

/// The row that holds the reference; the first where none does.
const ComparisonRow* referenceRow(const Comparison& comparison);

/// The verdict from the interval of a difference and the margin (contract §4). Pure and exact; used by compareRuns().
Verdict verdictOf(double low, double high, double margin, Better better, std::string& reason);

/// Differences of condition fields and loads between two runs, and what follows from them for the comparison.
void checkLikeForLike(const AnalyzedRun& reference, const AnalyzedRun& other, const std::string& referenceName,
                      const std::string& otherName, Comparison& comparison);

}  // namespace ash
