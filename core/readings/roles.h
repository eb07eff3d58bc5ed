// SPDX-License-Identifier: GPL-3.0-or-later
// What a kernel reading means: driver and label in, role out.
#pragma once

#include <vector>

#include "model/reading.h"

namespace ash {

/// Gives roles to the readings that have none yet, and the throttle limit where the driver documents one. A role is
/// given once: a second device of the same kind takes a number on its first part ("gpu2.temp"). Readings of one device
/// must stand together. Pure.
void assignRoles(const std::vector<Reading*>& readings);

}  // namespace ash
