// SPDX-License-Identifier: GPL-3.0-or-later
// Memory in use (/proc/meminfo) and shares of time that work had to wait (/proc/pressure,
// Documentation/accounting/psi.rst).
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

std::vector<Finder> memoryFinders(const std::string& root);

/// MemTotal − MemAvailable and MemTotal of /proc/meminfo in MiB; NaN where a line is missing.
struct MemoryUse {
  double usedMib = kMissing, totalMib = kMissing;
};
MemoryUse parseMemoryUse(std::string_view text);

/// The microseconds of "some … total=N" of a pressure file; NaN = none.
double parsePressureTotalUs(std::string_view text);

}  // namespace ash
