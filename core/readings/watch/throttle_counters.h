// SPDX-License-Identifier: GPL-3.0-or-later
// How often the processor says it was held down by heat, counted by the kernel since the machine was started.
#pragma once

#include <optional>
#include <string>

namespace ash {

/// Sums over all cores and all packages. Source: docs/linux-readings.md section 5
/// (/sys/devices/system/cpu/cpuX/thermal_throttle): siblings repeat their core's count and all CPUs of a package repeat
/// the package's, so each is counted once.
struct ThrottleCounts {
  long long ofCores = 0;
  long long ofPackages = 0;
};

/// Empty where the kernel keeps no such counts.
std::optional<ThrottleCounts> readThrottleCounts(const std::string& root);

}  // namespace ash
