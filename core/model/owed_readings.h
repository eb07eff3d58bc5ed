// SPDX-License-Identifier: GPL-3.0-or-later
// What a person still has to read off and type.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "model/run_facts.h"
#include "model/study_plan.h"

namespace ash {

/// Which of the readings to take by hand a run still lacks. A reading that must be settled counts from the moment the
/// measure phase began, or from `settledS` (missing = not settled yet).
std::vector<OwedReading> stillToTake(const std::vector<OwedReading>& byHand, const std::vector<Event>& events,
                                     const std::vector<PhaseSpan>& phases, double settledS,
                                     const std::set<std::string>& measured = {});

/// Columns that an instrument told, by what a run keeps of its bench (RunInfo::bench, "instruments").
std::set<std::string> toldByInstruments(const Json& bench);

}  // namespace ash
