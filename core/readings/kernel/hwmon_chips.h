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

}  // namespace ash
