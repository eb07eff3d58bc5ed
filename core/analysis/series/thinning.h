// SPDX-License-Identifier: GPL-3.0-or-later
// Fewer points for drawing, none of the extremes lost.
#pragma once

#include "model/samples.h"

namespace ash {

/// At most two readings per column of time: the lowest and the highest, in their order. A series that is short enough
/// already comes back as it is. Pure.
Series lowestAndHighest(const Series& series, size_t columns);

}  // namespace ash
