// SPDX-License-Identifier: GPL-3.0-or-later
// Chips of /sys/class/hwmon: temperatures, fans, duties, power, voltages, currents, energies, clocks, humidity.
// Documentation/hwmon/sysfs-interface.rst.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

/// One finder for each chip below `root` ("" = this machine). A chip that only mirrors a thermal zone or a battery is
/// left to those. Links that lead nowhere go to `skipped`.
std::vector<Finder> hwmonFinders(const std::string& root, std::vector<SkippedReading>& skipped);

/// How a driver behaves: the least time between two looks (0 = any), and how often it renews its values by itself
/// (0 = at every look, or not known). docs/readings.md has the same table with its reasons.
struct DriverManners {
  double paceS = 0;
  double refreshS = 0;
};
DriverManners hwmonManners(const std::string& driver);

}  // namespace ash
