// SPDX-License-Identifier: GPL-3.0-or-later
// How far a smooth curve may lie from the line through its measured points, between them.
#pragma once

#include <vector>

namespace ash {

struct ShapeDoubt {
  double variance = 0;  ///< at the place asked for, in the square of the curve's unit; 0 at a point itself
  double degrees = 0;   ///< of freedom of that variance
};

/// Curves whose slope wanders (an integrated Wiener process with a free line: G. Wahba, J. R. Stat. Soc. B 40, 1978),
/// held by the points. How much the slope wanders is told by the points themselves, less what their own `variances` (of
/// y) let them wander; beside few points counts what is usual: along a ladder a slope changes by 0.8 of the mean slope,
/// worth `kUsualPoints` of evidence. `x` strictly rising, at least two; `at` between the first and the last.
ShapeDoubt shapeDoubt(const std::vector<double>& x, const std::vector<double>& y, const std::vector<double>& variances,
                      double at);

}  // namespace ash
