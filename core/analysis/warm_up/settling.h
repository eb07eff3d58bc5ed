// SPDX-License-Identifier: GPL-3.0-or-later
// Has it settled, and if not, where will it? Formulas, assumptions and sources: docs/method.md, "Settling".
#pragma once

#include <optional>
#include <vector>

#include "analysis/series/series.h"

namespace ash {

inline constexpr double kSettledWithinK = 0.5;  ///< contract: remaining rise and trend both below this

/// What is asked about one temperature. Times in bench seconds.
struct SettlingQuestion {
  SeriesView temperature;  ///< °C; the whole log or the load alone
  TimeSpan load;
  SeriesView room;   ///< logged room (°C), may be empty: the fit is then made of the temperature itself
  SeriesView power;  ///< of the device that warms it, with the time before the load where there is one; may be empty
  /// Where work was really done during the load, where that is known apart from power: pauses lie between.
  std::vector<TimeSpan> busy;
  double stepK = 0;                  ///< the sensor's step
  double trendS = 0;                 ///< length of the window at the end whose trend must be small
  std::optional<TimeSpan> governed;  ///< held at its limit by a governor up to the end of the load
  double leastS = 0;                 ///< earlier runs took so long: never settled before
  /// When the same was asked before, as at the end of a soak that a measure phase follows. What was settled then stays
  /// so until the readings contradict it, for the certainty that is wanted to say so wavers with every reading.
  std::optional<double> askedBeforeS;
};

/// y(t) = final − Σ stages, with a 95 % interval of `final`.
struct WarmUpFit {
  bool isValid = false;
  double startS = 0, endS = 0;
  double finalK = kMissing, finalLowK = kMissing, finalHighK = kMissing;
  std::vector<double> timeConstantsS;   ///< rising
  std::vector<double> amplitudesK;      ///< K each would add in all at the power of the end, in the same order
  std::vector<double> remainingKAtEnd;  ///< K each still has to add when the load ends
  Series remaining;                     ///< K still to come over the time of the load, by the fit
  /// By the fit, for a time from the end of the load on.
  double remainingAfter(double t) const;
};

struct SettlingVerdict {
  bool isSettled = false;
  double atS = kMissing;              ///< since when, from the final fit
  double remainingK = kMissing;       ///< what the fit still predicts at the end
  double worstRemainingK = kMissing;  ///< the same, at most, at 95 % confidence
  double forecast = kMissing;         ///< settled value in the unit of `temperature`, at the room of the end
  double forecastLow = kMissing;
  double forecastHigh = kMissing;
  std::vector<double> timeConstantsS;
  bool isGoverned = false;  ///< held at its limit: the forecast is the mean it is held at
  WarmUpFit fit;
};

/// The part of a load in which a governor held a temperature at its limit, evenly or swinging below it, up to the
/// load's end.
std::optional<TimeSpan> governedSpan(const SeriesView& temperature, const TimeSpan& load, double limitC, double stepK);

/// How much of a load's end the trend is looked at where no window says it: a fifth, at least half a minute (s).
double trendLength(const TimeSpan& load);

/// Fits and judges. Everything is missing with fewer than 8 readings under load.
SettlingVerdict judgeSettling(const SettlingQuestion& question);

/// When it will be within `kSettledWithinK` (or the step) of its final value by the fit: bench seconds, missing when
/// unknown.
double settlesAtS(const SettlingVerdict& verdict, double stepK);

/// The fit alone, of readings under constant power.
WarmUpFit fitWarmUp(const SeriesView& warmUp);

}  // namespace ash
