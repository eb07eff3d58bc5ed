// SPDX-License-Identifier: GPL-3.0-or-later
// Between readings and fit: the readings under load as weighted means, the power that drives them, and what is believed
// of their end. Used by settling.cpp alone.
#pragma once

#include <array>

#include "analysis/warm_up/settling.h"
#include "analysis/warm_up/stage_fit.h"

namespace ash {

/// Means over spans that grow with the time since the load began; of a coarse sensor without noise the moments at which
/// it changes, which tell more.
struct WarmUpReadings {
  WeightedSpans spans;
  double leastVariance = 0;  ///< of a span of weight 1: below it no scatter is believed
};
WarmUpReadings warmUpReadings(const SettlingQuestion& question);

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
  double degrees = 1;  ///< of freedom, for Student's t
  double scatter = 0;  ///< variance of a span of weight 1 that the fullest explanation leaves
};
Beliefs weighStages(const StageProblem& problem, double leastVariance, size_t windowSpan);

/// Point of the mixture below which `share` of the weight lies; `what` as in Outlook.
double quantileOf(const Beliefs& beliefs, size_t what, double share);

}  // namespace ash
