// SPDX-License-Identifier: GPL-3.0-or-later
// What compare.cpp and level_field.cpp share: the figures that are compared, and the verdict on a difference.
#pragma once

#include <string>
#include <vector>

#include "analysis/comparison/ladder.h"
#include "analysis/comparison/pooling.h"

namespace ash {

/// The metrics asked for, else all that any run has, by name.
std::vector<Figure> metricNames(const MetricMaps& maps, const CompareOptions& options);

/// The stated standard deviation between repeats of a metric; missing where none is stated.
double repeatabilityOf(const CompareOptions& options, const Figure& metric);

/// The 95 % interval of a row's own value.
void setInterval(MetricRow& row, const Pooled& figure, const Figure& metric);

/// Difference, interval, verdict and reason of a row against the reference.
void judgeDifference(MetricRow& row, const Pooled& a, const Pooled& reference, const CompareOptions& options,
                     const Figure& metric, Better better, const Simultaneous& comparisons);

/// True for the pool that stands first on its ladder.
bool isFirstRung(const std::vector<Pool>& pools, const Pool& pool);

/// Replaces the rows by one a ladder; where the field cannot be levelled a check says so and nothing is compared.
void levelField(Comparison& comparison, const std::vector<Pool>& pools, const Pool& reference, const MetricMaps& maps,
                const CompareOptions& options);

/// Brings noise that was taken at another distance than the reference's to that distance, and says so.
void bringNoiseTogether(const std::vector<Pool>& pools, const Pool& reference, MetricMaps& maps,
                        Comparison& comparison);

}  // namespace ash
