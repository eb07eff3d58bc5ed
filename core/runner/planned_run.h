// SPDX-License-Identifier: GPL-3.0-or-later
// What a study's plan says about a run that is to be done: its setup's conditions, its load, its phases and stop rules.
#pragma once

#include <string>

#include "model/active_parts.h"
#include "model/study_plan.h"
#include "runner/run_recorder.h"

namespace ash {

/// What the book knows of a place; empty parts where it knows nothing.
struct PlannedPlace {
  Json conditions = Json::object();  ///< the setup's
  Json loadSpec = Json::object();    ///< as the setup carries the load out
  Study study;                       ///< as the book knows it; without a name where it does not
  bool hasPlan = false;
  StudyPlan plan;
  std::vector<ActivePart> active;  ///< what a run there would run, ask or turn on this machine
};

/// Looks a study, setup and load up in a book. A book, study, setup or load that is not there yet is no error.
Result<PlannedPlace> findPlace(const std::string& bookPath, const std::string& study, const std::string& setup,
                               const std::string& load);

/// Has the knobs turned that the setup's conditions name: those of the bench before the first phase, those of the
/// person's own by a pause in front. A power limit that is stated is turned where it can be. Refused: no such knob, no
/// right to turn it.
Status arrangeKnobs(const Json& conditions, RunPlan& plan, RunBench& bench);

/// Sentences on a book that lies on the drive under test: its own writes would count in the result. `loadSpec` of a
/// storage load names where it works in "folder" (else beside the book).
std::vector<std::string> drivesRemarks(const RunPlan& plan, const PlannedPlace& place);

/// The plan's own stop rules; an error names the rule that cannot be read.
Result<std::vector<StopRule>> stopRulesOf(const StudyPlan& plan);

}  // namespace ash
