// SPDX-License-Identifier: GPL-3.0-or-later
// Has it settled, and if not, where will it? Formulas, assumptions and sources: docs/method.md, "Settling".
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "analysis/series/series.h"
#include "model/role.h"

namespace ash {

inline constexpr double kSettledWithinK = 0.5;        ///< contract: remaining rise and trend both below this
inline constexpr double kSettledWithinPercent = 0.5;  ///< the same of what a device at its limit delivers

/// What a device that is held at its limit delivers: its power, clock or work.
struct Delivered {
  std::string channel;
  SeriesView readings;
  bool isPower = false;  ///< goes with the kelvin over the room: counted at the room of the end
};

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
  std::vector<Delivered> delivered;  ///< of the governed device; the first that can be judged decides
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

/// Where something that is delivered will be held, in its own unit, and how much of it is still to be lost.
struct HeldForecast {
  std::string channel;
  double value = kMissing, low = kMissing, high = kMissing;
  double remainingPercent = kMissing;  ///< of the value: what the fit still predicts it to fall by
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
  /// Of a governed device: it is settled when the first of these is, by the same rule in percent (contract, "Settled").
  std::vector<HeldForecast> held;
  double worstRemainingPercent = kMissing;  ///< of the first of them, at most, at 95 % confidence
  /// In K over the load; of a governed device in percent of what it delivers, over the time it is held.
  WarmUpFit fit;
};

/// The part of a load in which a governor held a temperature at its limit, evenly or swinging below it, up to the
/// load's end.
std::optional<TimeSpan> governedSpan(const SeriesView& temperature, const TimeSpan& load, double limitC, double stepK);

/// How much of a load's end the trend is looked at where no window says it: a fifth, at least half a minute (s).
double trendLength(const TimeSpan& load);

/// Fits and judges. Everything is missing with fewer than 8 readings under load.
SettlingVerdict judgeSettling(const SettlingQuestion& question);

/// The readings of what a device delivers, in the order in which they decide: power moves with the heat, clocks step,
/// and `work` (not known = another device's) comes last.
std::vector<Role> deliveredRoles(const Device& device, const Role& work);

/// What a device at its limit will hold: "3.41 GHz at 52.3 W"; empty where nothing of it can be told.
std::string heldWords(const std::vector<HeldForecast>& held);

/// When it will be within `kSettledWithinK` (or the step) of its final value by the fit: bench seconds, missing when
/// unknown.
double settlesAtS(const SettlingVerdict& verdict, double stepK);

/// The fit alone, of readings under constant power.
WarmUpFit fitWarmUp(const SeriesView& warmUp);

}  // namespace ash
