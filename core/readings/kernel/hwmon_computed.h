// SPDX-License-Identifier: GPL-3.0-or-later
// Readings that are computed from the channels of a processor's chip: its hottest core and the mean of its cores.
#pragma once

#include <string>

#include "readings/gauges/gauge_source.h"

namespace ash {

/// Adds them to the chip where its driver is known to show the cores (coretemp) or the dies (k10temp) of a processor.
void addHwmonComputed(const std::string& driver, GaugeSource& chip);

/// The lowest limit of each name that any of these readings has, for a reading computed from them.
void copyLowestLimits(const std::vector<Reading>& readings, const std::vector<size_t>& which, Reading& computed);

}  // namespace ash
