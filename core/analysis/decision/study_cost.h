// SPDX-License-Identifier: GPL-3.0-or-later
// What a study costs before its first run: how many repeats a difference takes to be told, and what a number of repeats
// can tell.
#pragma once

#include <vector>

#include "analysis/comparison/compare.h"

namespace ash {

/// How far repeats of one setup scatter (standard deviation, in the figure's unit), and how well that is known.
struct RepeatScatter {
  double sd = kMissing;
  double degrees = INFINITY;  ///< of freedom: repeats beyond the first of each setup
  int runs = 0;               ///< that told it; 0 = it is assumed
};

/// Runs of one setup under one load in one study.
using RepeatGroup = std::vector<const AnalyzedRun*>;

/// Pooled over all groups (of any study) that have at least two comparable runs; missing where there are none. Runs
/// that did not complete or did not settle tell nothing.
RepeatScatter scatterOf(const std::vector<RepeatGroup>& groups, const Figure& figure);

/// The chance that `repeats` of each tell a true difference from zero, in units of the scatter, with `setups` held
/// against the reference: 1 − F(t; 2n − 2, Δ/(sd·√(2/n))), the non-central t distribution (N. L. Johnson and
/// B. L. Welch, Biometrika 31, 1940).
double powerOf(double differenceInSd, int repeats, int setups = 1);

/// The fewest repeats of each setup that tell a difference with the chance `power`; 0 where 100 would not do.
int repeatsToTell(double difference, double sd, int setups = 1, double power = 0.9);

/// The smallest difference that so many repeats tell with the chance `power`; missing for fewer than two.
double differenceTold(int repeats, double sd, int setups = 1, double power = 0.9);

}  // namespace ash
