// SPDX-License-Identifier: GPL-3.0-or-later
// Power zones of /sys/class/powercap: energy counters that wrap, the power made of them, and the limits in force.
// Documentation/power/powercap/powercap.rst, Documentation/ABI/testing/sysfs-class-powercap.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

/// long_term, short_term and peak_power in the words of the analysis: sustained, short, peak; others as they are.
std::string powerLimitName(const std::string& constraint);

/// One finder for all zones. A second way to the same counter (…-mmio) is left out, so that nothing is counted twice;
/// a counter that only root may read is skipped with the remedy.
std::vector<Finder> powercapFinders(const std::string& root);

}  // namespace ash
