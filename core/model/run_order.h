// SPDX-License-Identifier: GPL-3.0-or-later
// Which runs a study still needs and in which order: setups down, loads across, repeats in each cell. Pure.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "model/study.h"

namespace ash {

/// One run that is planned.
struct PlannedRun {
  std::string setup;
  std::string load;
  int repeat = 1;
};

/// True for a run whose result counts: it reached its end, was ended by a rule, or went down (that is a result too).
/// What was stopped by hand, failed, or is void has to be done again.
bool countsAsDone(Outcome outcome);

/// A place of a cell: a run that is there (`run` indexes the list given) or one that is planned.
struct CellPlace {
  std::string label;  ///< "1", "2", "3"; "1b" for what was run instead of a void one
  std::optional<size_t> run;
};

/// The places of one cell: its runs in order, those run again after the planned ones, and what is still planned.
std::vector<CellPlace> cellPlaces(const std::vector<Outcome>& runs, int repeats);

/// The planned runs that are not done yet, in the order in which to do them: repeats outermost, every other round
/// through the setups backwards, so that a drift of the room does not pose as a result and the last setup of a round is
/// the first of the next.
std::vector<PlannedRun> runsToDo(const Study& study, int repeats, const std::vector<RunSummary>& runs);

/// A setup under a load of which no more runs are needed.
struct DecidedCell {
  std::string setup, load;
  bool operator==(const DecidedCell&) const = default;
};

/// The same of a study that runs until decided: without what is decided.
std::vector<PlannedRun> withoutDecided(std::vector<PlannedRun> toDo, const std::vector<DecidedCell>& decided);

/// What has to be changed by hand to get from one setup to another, one phrase each ("side panel: mesh"). A setup may
/// say it in its own words (`parts.by_hand`).
/// What a run turns by itself is none; the power limit where `turnsPowerLimit`.
std::vector<std::string> changesByHand(const Setup* from, const Setup& to, bool turnsPowerLimit = false);

}  // namespace ash
