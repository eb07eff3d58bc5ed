// SPDX-License-Identifier: GPL-3.0-or-later
// How often and how long the processor was slowed down by heat since the machine was started:
// /sys/devices/system/cpu/cpuX/thermal_throttle. Siblings repeat their core's figures and all CPUs their package's, so
// each is shown once.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

std::vector<Finder> throttleFinders(const std::string& root);

}  // namespace ash
