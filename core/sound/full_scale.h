// SPDX-License-Identifier: GPL-3.0-or-later
// What levels of samples are told against.
#pragma once

#include <cmath>

#include "model/reading.h"

namespace ash {

/// A mean square in dB of a full-scale sine, whose own is a half. Missing for silence.
inline double fullScaleDb(double meanSquare) {
  constexpr double kSineSquare = 0.5;
  return meanSquare > 0 ? 10 * std::log10(meanSquare / kSineSquare) : kMissing;
}

}  // namespace ash
