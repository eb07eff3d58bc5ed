// SPDX-License-Identifier: GPL-3.0-or-later
// Thermal zones with their trips, and cooling devices, of /sys/class/thermal.
// Documentation/ABI/testing/sysfs-class-thermal, Documentation/driver-api/thermal/sysfs-api.rst.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

/// The driver of readings that come from a zone.
inline constexpr char kThermalDriver[] = "thermal";

/// A finder for the zones of the processor together (their hottest is computed), one for each other zone, one for the
/// cooling devices.
std::vector<Finder> thermalFinders(const std::string& root);

/// True for a zone type that names a processor ("cpu-thermal", "x86_pkg_temp", "bigcore0-thermal", "soc_thermal").
bool isProcessorZone(const std::string& type);

}  // namespace ash
