// SPDX-License-Identifier: GPL-3.0-or-later
// Studies with more than one thing under test (cooler × paste): what each of them does within every level of the
// others.
#pragma once

#include <string>
#include <vector>

#include "analysis/comparison/pooling.h"

namespace ash {

/// The fields under test that take at least two values among the pools. `load` and `machine` count as fields.
std::vector<std::string> factorsOf(const std::vector<Pool>& pools);

/// What a field is set to in a run; null where it is not stated.
Json factorLevel(const AnalyzedRun& run, const std::string& field);

/// For every factor and each of its levels but the reference's: setups that differ in nothing but it, held against each
/// other level by level of the other factors, and the mean of those differences. Empty for fewer than two factors.
/// A factor that never changed alone has no effect that could be told: it is left out.
std::vector<FactorEffect> factorEffects(const std::vector<Pool>& pools, const Pool& reference, const MetricMaps& maps,
                                        const CompareOptions& options);

}  // namespace ash
