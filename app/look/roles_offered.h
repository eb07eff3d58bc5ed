// SPDX-License-Identifier: GPL-3.0-or-later
// The roles that a person is offered to choose from.
#pragma once

#include <string>
#include <vector>

#include "model/unit.h"

namespace ash::look {

/// Those of a quantity, the usual ones first; all of them where the quantity is not known (Other).
std::vector<std::string> rolesOffered(Quantity quantity);

}  // namespace ash::look
