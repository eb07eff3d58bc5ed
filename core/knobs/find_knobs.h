// SPDX-License-Identifier: GPL-3.0-or-later
// The knobs of a machine, from the kernel's own interfaces: powercap (Documentation/power/powercap), cpufreq
// (Documentation/admin-guide/pm/cpufreq.rst), hwmon duties and power caps (Documentation/hwmon/sysfs-interface.rst),
// graphics clocks (Documentation/gpu/i915.rst).
#pragma once

#include "knobs/knob.h"

namespace ash {

/// Below `root` ("" = this machine), each with its range and whether this process may turn it. Looks at the readings of
/// the machine for the places of fans: not for the interface's thread.
std::vector<Knob> findKnobs(const std::string& root);

}  // namespace ash
