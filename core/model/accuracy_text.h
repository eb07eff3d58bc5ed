// SPDX-License-Identifier: GPL-3.0-or-later
// What an instrument may be off by, as its maker states it: "0.5 % + 0.2 W".
#pragma once

#include <string_view>

#include "model/result.h"
#include "model/unit.h"

namespace ash {

/// ± a share of the reading and a fixed part in the stored unit of its quantity.
struct StatedAccuracy {
  double percent = 0;
  double plusMinus = 0;
  bool isStated() const { return percent > 0 || plusMinus > 0; }
};

/// Parts joined by "+", each a number with "%" (of the reading) or a unit of the quantity; a leading ± may stand. Of a
/// quantity that is itself in percent, "%" is the share and "points" or "% abs" the fixed part. Refused: anything else,
/// a number below zero, a unit of another quantity.
Result<StatedAccuracy> parseAccuracy(std::string_view text, Quantity quantity);

/// The same in words: "0.5 % + 0.2 W"; empty when nothing is stated.
std::string accuracyText(const StatedAccuracy& accuracy, std::string_view unit);

}  // namespace ash
