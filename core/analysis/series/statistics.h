// SPDX-License-Identifier: GPL-3.0-or-later
// Statistics of a window, with the uncertainty of its mean.
#pragma once

#include "analysis/series/series.h"

namespace ash {

/// The `stats` of the contract. All values but n are missing where n is 0.
struct Stats {
  size_t n = 0;
  double mean = kMissing;
  double sd = kMissing;  ///< sample standard deviation (n − 1)
  double se = kMissing;  ///< uncertainty of the mean: autocorrelation and the sensor's step taken into account
  double min = kMissing;
  double p05 = kMissing;
  double median = kMissing;
  double p95 = kMissing;
  double max = kMissing;
  double firstMaxAtS = kMissing;
};

/// `step` is the sensor's step (0 = none): se² = sd²·τ/n + step²/12.
Stats statsOf(const SeriesView& series, double step);

/// τ = 1 + 2 Σ ρ(k): how many samples count as one. Summed over pairs of lags while they stay positive and fall
/// (initial monotone sequence estimator, Geyer 1992). 1 for independent samples, at most n.
double autocorrelationTime(std::span<const double> values);

/// Linear interpolation between order statistics (Hyndman and Fan 1996, type 7). `sorted` must not be empty.
double quantileOfSorted(std::span<const double> sorted, double share);

/// Two-sided point of Student's t with `degrees` of freedom (infinity: normal) and a confidence such as 0.95.
double studentT(double degrees, double confidence);

/// Two-sided 95 % point of Student's t with `degrees` of freedom (1.96 for infinity).
double studentT95(double degrees);

/// Point below which Fisher's F with these degrees of freedom lies with a confidence.
double fisherF(double above, double below, double confidence);

/// Share of a standard normal distribution below x.
double normalShare(double x);

}  // namespace ash
