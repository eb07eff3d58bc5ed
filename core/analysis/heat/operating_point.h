// SPDX-License-Identifier: GPL-3.0-or-later
// What a run tells of its device beside one temperature: how its power grows with temperature and with clock, and how
// much of its rise its neighbours make. Each with how sure that is: a projection draws from it.
#pragma once

#include "analysis/run/figures.h"

namespace ash {

/// A value known up to a normal error.
struct Spread {
  double mean = kMissing, sd = 0;
};

/// The point at which a device worked in the window, and how it goes on from there.
struct OperatingPoint {
  Spread overRoomK;  ///< where it ends: of the window, else its forecast
  double roomC = kMissing, powerW = kMissing;
  double clockMhz = kMissing;       ///< missing where none is logged
  double restPowerW = 0;            ///< what it draws at rest
  double restMhz = 0;               ///< its clock there; 0 where none is logged
  double staticW = 0;               ///< of it at rest, and by leakage now: what the clock does not change
  double restOverRoomK = kMissing;  ///< missing where the rest was not seen to its end
  double wantedW = kMissing;        ///< what it draws where heat does not hold it back, at `wantedAtC`
  double wantedAtC = kMissing;
  double wantedMhz = kMissing;
  std::optional<double> powerLimitW;  ///< that is known of
  bool isPowerHeld = false;           ///< unheld by heat, its power is kept by that limit
  bool isHeatHeld = false;            ///< in this very window
  Spread leakPerKelvinW;              ///< growth of power with temperature there, at one clock and load
  Spread clockExponent;               ///< m of P − P_rest ~ f^m
};

/// Of a device whose power and temperature were logged, room known; `heat` is its row, with resistance and power.
OperatingPoint operatingPointOf(const RunLog& run, const Figures& figures, const Heat& heat);

/// What leakage adds on the way between two temperatures, for a watt per kelvin at the first: it grows e-fold every
/// `scaleK` (K). W per W/K.
double leakGrowth(double fromC, double toC, double scaleK);

/// Slope of y over x by least squares, with its standard error; each reading counts for `weight` of one.
Spread slopeOf(std::span<const double> x, std::span<const double> y, double weight);

/// Two independent statements of one value as one, weighted by 1/sd².
Spread together(const Spread& a, const Spread& b);

}  // namespace ash
