// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

#include "report/markup/markup.h"

namespace ash {

/// A difference on a scale from -1 to 1, with its interval.
struct IntervalMark {
  double value = 0, low = 0, high = 0;
  int setupIndex = 0;
  std::string words;  ///< what it says to who cannot see it
};

/// A small <svg> that stands in a line of text: a tick at no difference, a line over the interval, a point at the
/// value.
Markup svgIntervalMark(const IntervalMark& mark);

}  // namespace ash
