// SPDX-License-Identifier: GPL-3.0-or-later
// Setups that differ in one number alone, with what became of each: what "how far" is answered from.
#pragma once

#include <string>
#include <vector>

#include "model/json.h"
#include "model/study.h"
#include "report/answer/answer.h"

namespace ash {

/// One setting of a ladder, with what came of it.
struct HeldRung {
  const ComparisonRow* row;
  double setting;
  double headroomK;  ///< of the part that is nearest to its limit; missing where none is known
  double chance;     ///< that it held; missing where it cannot be told
  Sentence words;
};

/// The furthest setting last: in the way in which the headroom falls.
struct HeldLadder {
  std::string name;  ///< what their names have before the number: "Teasel"; empty where they have none
  Json others;       ///< their conditions without the number
  std::vector<HeldRung> all;
};

/// The ladders of a load in a number of the conditions, each of two rungs at least: setups belong together by their
/// other conditions and by the words of their names before the number.
std::vector<HeldLadder> heldLadders(const StudyReport& report, const LoadStanding& load, const std::string& field);

}  // namespace ash
