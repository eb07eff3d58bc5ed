// SPDX-License-Identifier: GPL-3.0-or-later
// How the lane of a log's column is drawn: each step from its least to its most, joined where the next one has values.
#pragma once

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "intake/log_look.h"

namespace ash {

/// The least and the most of a lane; high is below low where it has no value.
struct LaneExtent {
  double low = INFINITY, high = -INFINITY;
};

inline LaneExtent extentOf(const LaneShape& shape) {
  LaneExtent extent;
  for (size_t i = 0; i < shape.low.size(); ++i) {
    if (std::isnan(shape.low[i])) continue;
    extent.low = std::min(extent.low, shape.low[i]);
    extent.high = std::max(extent.high, shape.high[i]);
  }
  return extent;
}

/// With the painter's pen; `at` gives the place of a time and a value.
template <typename F>
void drawLane(QPainter& painter, const LaneShape& shape, F at) {
  constexpr QPointF kSeen(0, -0.6);  // a step of one value is a dot
  for (size_t i = 0; i < shape.timeS.size(); ++i) {
    if (std::isnan(shape.low[i])) continue;
    painter.drawLine(at(shape.timeS[i], shape.low[i]), at(shape.timeS[i], shape.high[i]) + kSeen);
    if (i > 0 && !std::isnan(shape.high[i - 1]))
      painter.drawLine(at(shape.timeS[i - 1], shape.high[i - 1]), at(shape.timeS[i], shape.high[i]));
  }
}

}  // namespace ash
