// SPDX-License-Identifier: GPL-3.0-or-later
// A governor that drops a device far down for some seconds makes it look as if it rested.
#pragma once

#include "analysis/phases/activity.h"

namespace ash {

/// Closes the gaps between stretches of work in which the power stayed clearly above that of real rest: there a
/// governor held the device down, and work went on. `restLevel` and `workLevel` are those of the power (W); without
/// real rest in the log nothing is closed. The last gap, which the end of the load cuts off, is closed as far as the
/// power stays up.
std::vector<TimeSpan> withoutGovernedGaps(std::vector<TimeSpan> busy, const SeriesView& power, double restLevel,
                                          double workLevel);

}  // namespace ash
