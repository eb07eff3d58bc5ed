// SPDX-License-Identifier: GPL-3.0-or-later
// Which one is this? One device is warmed for some seconds; what moved, and by how much against its own noise, tells
// what an unnamed reading most likely is.
#pragma once

#include <string>
#include <vector>

#include "model/reading.h"

namespace ash {

/// What was read before, during and after the warming. Every row of `values` belongs to a reading.
struct WarmTrial {
  std::vector<double> timeS;
  std::vector<Reading> readings;
  std::vector<std::vector<double>> values;  ///< by reading, then by time; NaN = missing
  double warmStartS = 0, warmEndS = 0;
};

/// How one reading went.
struct Movement {
  size_t reading = 0;
  double restValue = kMissing;   ///< mean before the warming
  double rise = kMissing;        ///< furthest from where rest and its drift would have been, with its sign
  double noise = kMissing;       ///< scatter around the line before the warming, at least a third of its step
  double times = 0;              ///< |rise| in units of that noise
  double peakAfterS = kMissing;  ///< from the start of the warming to the furthest point
  double cooledShare = 0;        ///< how much of it was gone again at the end of the record
};

/// All readings, those that moved most against their own noise first; readings with too few values are left out. Pure.
std::vector<Movement> whatMoved(const WarmTrial& trial);

/// What a reading most likely is.
struct LikelyMeaning {
  std::string words;   ///< "Air at the intake"
  std::string reason;  ///< one or two sentences
  Role role;           ///< suggested role, empty for none
};

/// Told from how it went beside `warmed`, the temperature of the device that was warmed, and beside the room where that
/// is read. `asked` and `warmed` are places in the trial. Pure.
LikelyMeaning whatItIs(const WarmTrial& trial, size_t asked, size_t warmed);

/// A reading has moved when its rise is at least so many times its noise.
inline constexpr double kMovedTimes = 5;

}  // namespace ash
