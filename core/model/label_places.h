// SPDX-License-Identifier: GPL-3.0-or-later
// Where labels of a picture go so that none lies on another. Pure geometry; y grows downwards.
#pragma once

#include <limits>
#include <optional>
#include <vector>

namespace ash {

/// Labels at the ends of lines: `places` are where each would stand, rising. They are pushed down until two are at
/// least `apart` from each other, and up again where the last ones would be below `bottom`. What does not fit between
/// `top` and `bottom` sticks out at the top.
void spreadApart(std::vector<double>& places, double apart, double top = -std::numeric_limits<double>::infinity(),
                 double bottom = std::numeric_limits<double>::infinity());

struct LabelBox {
  double x = 0, y = 0, width = 0, height = 0;
  bool covers(const LabelBox& other) const;
  bool holds(const LabelBox& other) const;
};

/// A point with the size of the name that belongs to it.
struct NamedPoint {
  double x = 0, y = 0;
  double width = 0, height = 0;
};

/// Each name beside its point, inside `frame`, where it covers neither a point (`reach` around it) nor another name;
/// `gap` is the distance from the point. Empty for a name that finds no room. What is `taken` is covered by none.
std::vector<std::optional<LabelBox>> placeNames(const std::vector<NamedPoint>& points, const LabelBox& frame,
                                                double reach, double gap, std::vector<LabelBox> taken = {});

}  // namespace ash
