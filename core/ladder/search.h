// SPDX-License-Identifier: GPL-3.0-or-later
// Where a ladder goes next, by the steps there are: nothing is run here.
#pragma once

#include <optional>

#include "ladder/ladder.h"

namespace ash {

/// What is known of a ladder's steps.
struct LadderBounds {
  std::optional<size_t> holds;    ///< the furthest that held, short of the one that did not
  std::optional<size_t> fails;    ///< the nearest that did not hold
  std::optional<size_t> chosen;   ///< `back` steps back from it, or further where a confirming run failed
  std::optional<bool> confirmed;  ///< none where no confirming run is asked for or none is over
};
LadderBounds boundsOf(const Ladder& ladder);

struct NextStep {
  size_t index = 0;
  bool isConfirming = false;
};
/// The step to run next; none when all is known.
std::optional<NextStep> nextStep(const Ladder& ladder);

/// How many runs it takes from now on, at most and at least, the one that goes on included.
struct StepsLeft {
  size_t least = 0, most = 0;
};
StepsLeft stepsLeft(const Ladder& ladder);

}  // namespace ash
