// SPDX-License-Identifier: GPL-3.0-or-later
// Between readings and fit: the readings under load as weighted means, the power that drives them, and what is believed
// of their end. Used in this folder alone.
#pragma once

#include <array>

#include "analysis/warm_up/settling.h"
#include "analysis/warm_up/stage_fit.h"

namespace ash {

/// Means of a series between two times, in constant time. The series must outlive it.
class Means {
 public:
  explicit Means(const SeriesView& series);
  /// The value half way where no reading lies between them; missing of an empty series.
  double between(double fromS, double toS) const;
  /// Around a span, evenly on both sides: near an end of the series less far.
  double around(double fromS, double toS, double reachS) const;

 private:
  SeriesView m_series;
  std::vector<double> m_sum;
};

/// The room a temperature is counted from: nothing where none was logged. It moves slowly, and its sensor's noise must
/// not get into the fit, so it is taken as a mean. What has mass follows a room that moves by its own time constant:
/// with a lag it is the room as the device feels it, τ·du/dt = room − u, at rest with the room where its log begins.
class RoomBelow {
 public:
  explicit RoomBelow(const SeriesView& room, double lagS = 0);
  RoomBelow(RoomBelow&&) = default;  // what looks into the lagged series goes with it; a copy would not
  double during(double fromS, double toS) const;
  /// How much of a room that is at `roomC` the device has still to follow at a time (K); nothing where it is not felt
  /// late.
  double toFollow(double roomC, double timeS) const;

 private:
  std::optional<Means> m_room, m_felt;
  Series m_lagged;
};

/// Means over spans that grow with the time since the load began; of a coarse sensor without noise the moments at which
/// it changes, which tell more.
struct WarmUpReadings {
  WeightedSpans spans;
  double leastVariance = 0;                   ///< of a span of weight 1: below it no scatter is believed
  double noise = 0;                           ///< of a span of weight 1: what no smooth curve explains
  size_t spansOfTwo = 14, spansOfThree = 40;  ///< so many are wanted to tell as many stages
  // How many times the noise a fit's scatter may be: before a later start is tried, before half of the tolerance must
  // do, before it decides nothing, before a change under load is looked for.
  double explained = 6, wellExplained = INFINITY, mostMisfit = INFINITY, unexplained = 24;
  bool areCrossings = false;  ///< of a coarse sensor, not means
  bool areTooFew = false;     ///< of a coarse sensor, and it may well change once more soon: nothing is decided
};
WarmUpReadings warmUpReadings(const SettlingQuestion& question, const RoomBelow& room);
/// Means of readings alone, of a coarse sensor, too.
WarmUpReadings meanReadings(const SettlingQuestion& question, const RoomBelow& room);

/// A sensor that shows only its steps tells by when it changes: half way between two values at that moment, however it
/// wavers there. Nothing where noise lets the mean of its readings tell more, or where it has hardly changed.
std::optional<WarmUpReadings> stepCrossings(const SeriesView& part, double stepK, const RoomBelow& room);

/// The power as input of the stages, 1 as at the end. Empty where power is constant enough for a plain warm-up, or not
/// known.
std::optional<StageInput> drivingInput(const SettlingQuestion& question, const WeightedSpans& spans);

/// One explanation of the readings: its weight, and what it says of the final value, of what remains at the end, and of
/// the change over the window (mean and variance).
struct Outlook {
  double logWeight = 0;
  std::array<double, 3> mean{}, variance{};
};

/// Everything the readings allow, weighed by evidence.
struct Beliefs {
  StageFit best;  ///< the explanation with most weight
  std::vector<Outlook> outlooks;
  double degrees = 1;              ///< of freedom, for Student's t
  double scatter = 0;              ///< variance of a span of weight 1 that the fullest explanation leaves
  double logEvidence = -INFINITY;  ///< of all explanations together; to be compared over the same readings only
};
Beliefs weighStages(const StageProblem& problem, const WarmUpReadings& readings, size_t windowSpan);

/// Point of the mixture below which `share` of the weight lies; `what` as in Outlook.
double quantileOf(const Beliefs& beliefs, size_t what, double share);

/// Beliefs with the input that drives their stages.
struct Fitted {
  Beliefs beliefs;
  StageInput input;
};

/// A fit with the readings it was made of.
struct FittedPart {
  WeightedSpans spans;
  Fitted fitted;
  double misfit = 0;             ///< scatter over noise
  bool explainsReadings = true;  ///< else it decides nothing
  bool explainsWell = true;      ///< else half of the tolerance must do
};

/// A fit and the room it is made over.
struct FitOverRoom {
  FittedPart part;
  RoomBelow room;
  /// The final value's interval by the other view of the room, where that explains the readings as well.
  double lowK = INFINITY, highK = -INFINITY;
};

/// Over the room as it is logged; where that moved, also over the room as it is felt by the metal, and the readings say
/// which. Nothing where there are too few of them.
std::optional<FitOverRoom> fitOverTheRoom(const SettlingQuestion& question);

/// A straight line through readings.
struct Line {
  double change = 0;    ///< from the first to the last
  double changeSe = 0;  ///< its standard error, with the residuals' hanging together
  double middle = 0, middleS = 0, lengthS = 0, rss = 0;
  double at(double t) const { return middle + (lengthS > 0 ? change * (t - middleS) / lengthS : 0); }
  /// By how much it surely changes: noise alone must not show a trend.
  double sureChange(size_t readings) const;
};
Line lineThrough(const SeriesView& part);

/// A verdict, and whether the readings speak against rest: more than the tolerance is likely to come, or was seen to.
struct Judged {
  SettlingVerdict verdict;
  bool isContradicted = true;
};
/// As the readings are now, whatever was said before.
Judged judgeNow(const SettlingQuestion& question);
/// Of a device that is held at its limit: where it is held is where it stays, and what it delivers settles.
Judged judgeGoverned(const SettlingQuestion& question);

}  // namespace ash
