// SPDX-License-Identifier: GPL-3.0-or-later
// Batteries and adapters of /sys/class/power_supply (Documentation/ABI/testing/sysfs-class-power,
// Documentation/power/power_supply_class.rst).
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

/// One finder for each supply of the system; batteries of a mouse or a pen are left out.
std::vector<Finder> supplyFinders(const std::string& root);

}  // namespace ash
