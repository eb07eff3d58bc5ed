// SPDX-License-Identifier: GPL-3.0-or-later
// Has it settled, and if not, where will it? A fit of one or two exponentials to a warm-up.
#pragma once

#include <vector>

#include "analysis/series.h"

namespace ash {

inline constexpr double kSettledWithinK = 0.5;  ///< contract: remaining rise and trend both below this

/// y(t) = final − Σ amplitude_k · exp(−(t − startS)/τ_k), with a 95 % interval of `final`.
struct WarmUpFit {
  bool isValid = false;
  double startS = 0;  ///< where the fitted part begins (a boost at the start of a load is left out)
  double endS = 0;
  double finalK = kMissing;
  double finalLowK = kMissing;
  double finalHighK = kMissing;
  std::vector<double> timeConstantsS;  ///< rising
  std::vector<double> amplitudesK;     ///< in the same order
  double at(double t) const;
};

/// Fits the readings of `warmUp` (the load phase up to now; °C, or K over room). Two time constants are taken where
/// they explain the readings clearly better (BIC); the interval is the profile likelihood over the slow time constant
/// with the autocorrelation of the residuals. Invalid with fewer than 12 readings.
WarmUpFit fitWarmUp(const Series& warmUp);

struct SettlingVerdict {
  bool isSettled = false;
  double atS = kMissing;              ///< since when, from the final fit
  double remainingK = kMissing;       ///< what the fit still predicts at the end
  double worstRemainingK = kMissing;  ///< the same at the far end of the interval
  double forecast = kMissing;         ///< settled value in the unit of `temperature`, at the room of the end
  double forecastLow = kMissing;
  double forecastHigh = kMissing;
  std::vector<double> timeConstantsS;
  WarmUpFit fit;
};

/// `temperature` under load (°C); `room` the logged room (may be empty): the fit is then made over room. `step` is the
/// sensor's step. `trendS` is the length of the window at the end whose trend must be small, at most the load itself.
SettlingVerdict judgeSettling(const Series& temperature, const Series& room, double step, double trendS);

/// When it will be within `kSettledWithinK` of its final value by the fit: bench seconds, missing when unknown.
double settlesAtS(const SettlingVerdict& verdict, double step);

}  // namespace ash
