// SPDX-License-Identifier: GPL-3.0-or-later
// Graphics: load, clocks, memory, throttle reasons of /sys/class/drm/cardN (Documentation/gpu/amdgpu/thermal.rst; the
// files of i915 and xe are described in docs/readings.md), and clocks of /sys/class/devfreq. Temperatures, fans and
// power of a card are those of its hwmon chip.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

/// One finder for each card; a card that sleeps is not woken.
std::vector<Finder> graphicsFinders(const std::string& root);

}  // namespace ash
