// SPDX-License-Identifier: GPL-3.0-or-later
// What a ladder is for: questions that are ready, each with the knob it turns, the way it goes and what ends it.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "knobs/knob.h"
#include "ladder/ladder.h"

namespace ash {

struct LadderQuestion {
  std::string_view id;     ///< of `--question`
  std::string_view words;  ///< "The highest power limit that heat does not hold back"
  std::string_view knob;   ///< its id, or its end for one with a place: ".duty"; or a person's own
  bool goesDown = false;
  std::string_view rule;    ///< with {} where what is wanted stands
  std::string_view wanted;  ///< what it asks for, with its unit: "At the wall, W"; empty = nothing
  double usualWanted = 0;
  double ownFrom = 0, ownTo = 0, ownStep = 0;  ///< of a knob that only a hand turns
};

const std::vector<LadderQuestion>& ladderQuestions();
const LadderQuestion* findQuestion(std::string_view id);

/// The ladder that answers a question with the knobs there are: knob, from, to, step and rule are filled in, all else
/// stays. Refused: no such knob here, or one that cannot be turned.
Status fillIn(const LadderQuestion& question, const std::vector<Knob>& knobs, std::optional<double> wanted,
              LadderAsk& ask);

}  // namespace ash
