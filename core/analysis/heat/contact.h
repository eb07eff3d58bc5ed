// SPDX-License-Identifier: GPL-3.0-or-later
// What lies between a device and the mass of its cooler (contact, paste, mount), told by how far the device itself runs
// ahead when its power steps: seconds, where everything behind it takes minutes.
#pragma once

#include "analysis/heat/operating_point.h"

namespace ash {

/// The contact (K/W) by the steps of power at the starts and ends of loads in a run: by least squares
///     T(t) = a + R · lag(P, τ) + r · lag(P, τ'),    lag = first-order answer to the power that was logged,
/// over 10 s before to 60 s after each step; τ of 0.5 to 20 s and τ' of at least three times as much weighed by how
/// well they explain the readings. The two lags side by side are turned into a chain of masses (Foster to Cauer form),
/// whose first resistance is told; so JEDEC JESD51-14 (2010) tells a device from what it is mounted on. Steps together
/// by 1/sd². Both missing where power or temperature do not tell it: read more seldom than every 2.5 s, steps below 3
/// W, a stage below 3 K or slower than 20 s, an sd above 6 %.
Spread contactOf(const RunLog& run, const Device& device, const std::vector<TimeSpan>& loads);

}  // namespace ash
