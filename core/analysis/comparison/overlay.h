// SPDX-License-Identifier: GPL-3.0-or-later
// Several runs laid over each other: aligned, scaled, smoothed, repeats as one band, one subtracted from the others,
// and the figures of a window of one's own. Pure.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "analysis/comparison/compare.h"

namespace ash {

enum class Align { LoadStart, ClockTime, Settled };
enum class Scale { Celsius, OverRoom, Headroom };

/// The moment of a run (s since its first sample) that lies at zero; missing where it has none (not settled).
/// ClockTime is seconds since `epochS`, from the run's own start.
double zeroOf(const AnalyzedRun& run, Align align, double epochS = 0);

/// Seconds since 1970 of an ISO 8601 time with its offset; missing when it cannot be read.
double epochOf(const std::string& iso);

/// A channel of a run on the aligned axis, in the scale asked for (temperatures only), smoothed over `smoothS`.
/// Empty where the run lacks it, its room or its limit.
Series tracedSeries(const AnalyzedRun& run, const std::string& channel, Align align, Scale scale, double smoothS,
                    double epochS = 0);

/// Centred moving mean over `spanS`; the same times.
Series smoothed(const Series& series, double spanS);

/// Repeats as one: their mean with the lowest and highest of them, where all of them have readings. As fine as the
/// finest of them, no reading of any lies outside.
struct Band {
  std::vector<double> t, mean, low, high;
};
Band bandOf(const std::vector<Series>& repeats, size_t mostPoints = 200'000);

/// `series` minus `reference`, where both have readings.
Series differenceOf(const Series& series, const Series& reference);

/// The clock a device should hold under this load: the one that the plan's own power limit leaves it where that held it
/// steadily, else its reference clock (MHz). Missing where it is not known.
double shouldHoldMhz(const Throttling& throttling);

/// Which window figures are taken from.
struct WindowChoice {
  enum class Kind { OfEachRun, FromSettled, Own };
  Kind kind = Kind::OfEachRun;
  double startS = 0, endS = 0;  ///< Own: aligned time
};
/// The window of a run in its own time; empty where it has none.
std::optional<TimeSpan> windowOfRun(const AnalyzedRun& run, const WindowChoice& choice, Align align, double epochS = 0);

/// Figures of one run in one window; what cannot be told is missing.
struct WindowFigures {
  double overRoomK = kMissing, overRoomSe = kMissing, meanC = kMissing, highestC = kMissing, leftK = kMissing;
  double clockMhz = kMissing, powerW = kMissing, workRate = kMissing, noiseDba = kMissing, fanRpm = kMissing;
  bool isAtLimit = false;
  double slowedShare = 0;     ///< of the window, by heat
  double lostClockShare = 0;  ///< of the clock it should hold, over the window
};
WindowFigures figuresIn(const AnalyzedRun& run, const TimeSpan& window);

/// Repeats averaged: the mean of each figure over those that have it, the highest of their highest. The interval is
/// pooled like that of every comparison (pooling.h).
struct RepeatedFigures {
  WindowFigures mean;
  double overRoomHalfK = kMissing;  ///< half of the 95 % interval of the over-room figure
};
RepeatedFigures averaged(const std::vector<WindowFigures>& repeats);

}  // namespace ash
