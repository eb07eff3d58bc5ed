// SPDX-License-Identifier: GPL-3.0-or-later
// Quantiles of many values without putting them in order.
#pragma once

#include <array>
#include <span>

namespace ash {

/// The 5 %, 50 % and 95 % quantiles of `values`, none of which lies outside [low, high], with straight lines between
/// order statistics (R. J. Hyndman and Y. Fan, Am. Stat. 50, 1996, type 7). Exact: values are counted into equal bins
/// and only those bins that hold a wanted one are looked into. `values` must not be empty.
std::array<double, 3> usualQuantiles(std::span<const double> values, double low, double high);

}  // namespace ash
