// SPDX-License-Identifier: GPL-3.0-or-later
// Names of setups that are rungs of one ladder: "Solid, 65 W".
#pragma once

#include <string>

namespace ash {

/// "Solid, 65 W" -> "Solid": a number at the end with its unit is the rung's. A name without one stays as it is.
std::string familyName(const std::string& setup);

/// The other way round: "Solid", 65, "W" -> "Solid, 65 W".
std::string rungName(const std::string& family, double value, const std::string& unit);

}  // namespace ash
