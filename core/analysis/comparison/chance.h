// SPDX-License-Identifier: GPL-3.0-or-later
// How likely a figure lies beyond a value, and how many repeats would decide it.
#pragma once

#include <cmath>
#include <optional>

namespace ash {

/// A value with its 95 % interval, by Student's t with so many degrees of freedom.
struct Believed {
  double value, low, high;
  double degrees = INFINITY;
};

/// The chance, 0 to 1, that the true value lies above `target`: the side of the interval that points at the target
/// tells the scale (JCGM 100:2008, G.3). Missing where the value or its interval is.
double chanceAbove(const Believed& figure, double target);

/// How many repeats would keep the interval clear of the target, if the mean and the scatter stay as they are; none
/// where it is clear already or cannot be told.
std::optional<int> repeatsToDecide(const Believed& figure, double target, int repeats);

}  // namespace ash
