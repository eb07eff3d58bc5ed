// SPDX-License-Identifier: GPL-3.0-or-later
// What a sensor cannot mean: fillers of registers that hold nothing, values no such thing can have.
#pragma once

#include <cstdint>
#include <string>

#include "model/unit.h"

namespace ash {

/// Why a kernel number is no value of this quantity, as words for a person ("65535 RPM is a register filled with
/// ones"); empty when it may be one. `value` is `raw` in the stored unit. Bounds and fillers: docs/readings.md, "Absurd
/// values".
std::string whyImpossible(Quantity quantity, int64_t raw, double value);

/// The same question without the words, for every sample.
bool isImpossible(Quantity quantity, int64_t raw, double value);

/// A temperature that is out and back faster than heat moves: a fault of the line, not of the device. A sensor's value
/// is withheld when it is further than this from the one before, until a second value confirms it.
inline constexpr double kImpossibleJumpK = 60;

}  // namespace ash
