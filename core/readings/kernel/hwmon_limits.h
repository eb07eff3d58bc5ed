// SPDX-License-Identifier: GPL-3.0-or-later
// Limits that stand beside a channel of a chip.
#pragma once

#include <filesystem>
#include <string>

#include "model/reading.h"

namespace ash {

/// What the files of a prefix mean; kernel integer / divisor = stored unit (Documentation/hwmon/sysfs-interface.rst).
struct HwmonKind {
  const char* prefix;
  const char* kind;
  Quantity quantity;
  double divisor;
};

/// Reads min, max, critical, emergency, cap … of `channel` ("temp1") into the reading with the file each came from.
/// Limits that mean nothing (0, -273.15, 65261.85, a maximum below its minimum) are left out.
void addHwmonLimits(const std::filesystem::path& folder, const std::string& channel, const HwmonKind& kind,
                    Reading& reading);

}  // namespace ash
