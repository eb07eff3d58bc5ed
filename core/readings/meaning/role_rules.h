// SPDX-License-Identifier: GPL-3.0-or-later
// The rules by which a reading of the kernel is given its meaning. docs/readings.md has the same table with its
// reasons.
#pragma once

#include <string>

#include "model/reading.h"

namespace ash {

/// What a rule says of a reading.
struct RoleWish {
  Role role;       ///< without a device's number; empty = no rule fits
  int rank = 0;    ///< of several readings that would be the same thing of one device, the lowest rank gets it
  Role otherwise;  ///< what it is when another one got the role; empty = nothing
};

/// By driver family, kind and label; the first rule that fits counts. Pure.
RoleWish wishFor(const Reading& reading);

}  // namespace ash
