// SPDX-License-Identifier: GPL-3.0-or-later
// A ladder as it is drawn: its steps in the order of their values, those that were run and those that may come; and how
// far it is.
#pragma once

#include <vector>

#include "ladder/search.h"

namespace ash {

/// One place of the row. `step` points into the ladder.
struct LadderPlace {
  size_t index = 0;
  const LadderStep* step = nullptr;  ///< none: not run
  bool isNext = false, isConfirming = false;

  bool isGoingOn() const { return step != nullptr && !step->held; }
};
/// Steps that nothing is known of are among them as long as the ladder has at most `mostToCome` steps.
std::vector<LadderPlace> placesOf(const Ladder& ladder, size_t mostToCome);

/// How far a ladder is while one of its runs goes on.
struct LadderOutlook {
  size_t number = 0;  ///< of the run that goes on, from 1
  StepsLeft runs;     ///< that one included
  double runS = 0;    ///< how long it may take at most
  double afterS = 0;  ///< and those that may come after it; both infinite where a person has to turn the knob
};
LadderOutlook outlookOf(const Ladder& ladder);

}  // namespace ash
