// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/clock_rules.h"

#include <algorithm>

namespace ash::sim {

double ClockRules::highestMhz(const DeviceSpec& device) const {
  const double lowest = std::clamp(leastMhz, device.minMhz, device.maxMhz);
  double highest = device.maxMhz;
  const double baseMhz = std::min(device.baseMhz, highest);
  if (preference == Preference::BalancePower) highest = (highest + baseMhz) / 2;
  if (!mayBoost || preference == Preference::Power) highest = baseMhz;
  highest = std::clamp(std::min(highest, mostMhz), lowest, device.maxMhz);
  return governor == Governor::Powersave ? lowest : highest;
}

double ClockRules::idleMhz(const DeviceSpec& device) const {
  return governor == Governor::Performance ? highestMhz(device) : std::clamp(leastMhz, device.minMhz, device.maxMhz);
}

}  // namespace ash::sim
