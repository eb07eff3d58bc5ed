// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as instruments answer them: IEEE 488.2 numeric response data with an optional suffix.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "model/result.h"
#include "model/unit.h"

namespace ash {

/// A number of an answer. `value` is missing for the numbers that SCPI-1999 (vol. 1, 7.2.1) keeps for "not a number"
/// and "infinity": 9.91E37 and ±9.9E37.
struct ScpiNumber {
  double value = 0;
  std::optional<UnitMatch> unit;  ///< of its suffix; none without one
  std::string suffix;
};

/// NR1, NR2 or NR3 (IEEE 488.2-1992, 8.7.2 to 8.7.4) and perhaps a suffix with a multiplier (7.7.3, table 7-2: MW is
/// milliwatt, MAW megawatt, but MHZ is megahertz). Refused: anything else, several numbers, an unknown suffix.
Result<ScpiNumber> parseScpiNumber(std::string_view answer);

/// A suffix such as "kW", "mV", "MAHZ", "CEL"; upper and lower case are the same.
std::optional<UnitMatch> scpiUnit(std::string_view suffix);

}  // namespace ash
