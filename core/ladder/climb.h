// SPDX-License-Identifier: GPL-3.0-or-later
// Climbing a ladder: each step a run of its own setup, what became of it read from the book, how far it is kept there
// before a run begins.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "book/run_writer.h"
#include "ladder/ladder.h"
#include "model/active_parts.h"

namespace ash {

/// A run that is to be carried out now.
struct LadderRun {
  std::string runId, setup, load, phases;
  std::vector<std::string> rules;  ///< stop rules
  size_t number = 0;               ///< of the ladder, from 0
};

struct LadderHands {
  /// Carries a run out and returns when it is over; the book says what became of it.
  std::function<Status(const LadderRun&)> carryOut;
  /// The ladder has come further: a step begins or is over.
  std::function<void(const Ladder&)> tell;
  /// It is to end: a step that is cut off is done again when it goes on.
  std::function<bool()> isAsked;
  /// The id of the next run.
  std::function<std::string()> newId = newRunId;
};

/// What a ladder does on this machine, for whoever confirms it: its knob, from where to where, by which load.
ActivePart activePart(const LadderAsk& ask);

/// Begins one in a book: study and setup are made when missing. `id` and `created` (ISO 8601) for one that is made up;
/// empty = a new one, now. Refused: what checkAsk() refuses.
Result<Ladder> beginLadder(const std::string& bookPath, LadderAsk ask, const std::string& id = {},
                           const std::string& created = {});

/// The last ladder of that ask which is not over, with what became of the step that was cut off. Refused: there is
/// none (one that asks for something else is named with what is different), its recorder goes on still, somebody climbs
/// it.
Result<Ladder> resumeLadder(const std::string& bookPath, const LadderAsk& ask, const std::string& root);

/// Some process climbs it now.
bool isBeingClimbed(const Ladder& ladder);

/// Climbs, and confirms the knobs of its steps: call it for a ladder that a person has asked for, or whose activePart()
/// is confirmed. Other knobs of its setup are confirmed by nobody here, so that a run of them is refused. Until all is
/// known, somebody asks for its end, or a run could not be carried out (an error, and the ladder can be resumed).
Result<Ladder> climb(const std::string& bookPath, Ladder ladder, const LadderHands& hands);

}  // namespace ash
