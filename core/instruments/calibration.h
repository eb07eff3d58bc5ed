// SPDX-License-Identifier: GPL-3.0-or-later
// A microphone is tied to one level that a sound level meter beside it shows.
#pragma once

#include <vector>

#include "instruments/instrument.h"
#include "model/result.h"

namespace ash {

struct Calibration {
  double fullScaleDb = kMissing;  ///< the level of a full-scale sine
  double spreadDb = 0;            ///< from the quietest interval to the loudest
  size_t intervals = 0;
};

/// What full scale is when a meter shows `shownDba` while the microphone tells `levelsDb` (equivalent levels of equal
/// intervals, taken with full scale at `heldDb`; missing = 0, not calibrated): their mean is that of the energy.
/// Refused when there is none, or when it was not steady: more than 3 dB from the quietest to the loudest.
Result<Calibration> calibrationFrom(const std::vector<double>& levelsDb, double heldDb, double shownDba);

/// Listens for so many seconds to an instrument of kind sound. The error says why nothing was heard.
Result<std::vector<double>> listenTo(Instrument instrument, double seconds);

}  // namespace ash
