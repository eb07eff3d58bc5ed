// SPDX-License-Identifier: GPL-3.0-or-later
// Runs of a plan one after the other: which is next, and whether a person is needed before it.
#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "book/book.h"
#include "model/run_order.h"
#include "model/study_plan.h"

namespace ash {

struct QueuedRun {
  std::optional<PlannedRun> run;    ///< empty when all are done
  std::vector<std::string> byHand;  ///< what somebody must change first; empty = it can begin
  StudyPlan plan;
  size_t left = 0;   ///< runs that are still to do, this one included; of a study until decided: at most
  size_t saved = 0;  ///< runs of the plan that are not needed, for what they were to tell is decided
};

/// The next run of a study's plan. Of one that runs until decided the runs there are analysed first, which takes a
/// tenth of a second each. On a simulated bench nothing is ever changed by hand. An error when there is no such study,
/// or nothing in it that could be run. `turnsPowerLimit`: a run on this machine does that by itself.
Result<QueuedRun> nextInQueue(const Book& book, const std::string& study, bool turnsPowerLimit = false);

/// Readings by hand that a run which is over does not have. One that is to be taken once it has settled counts from the
/// moment the load was on: when exactly it had settled is not asked here. `measured` are the roles that an instrument
/// told.
std::vector<OwedReading> owedBy(const StudyPlan& plan, const RunFacts& facts, const std::set<std::string>& measured);

/// Readings that a person still owes a run: it is "open" until they are typed in. 0 for a run that does not count.
Result<std::vector<OwedReading>> owedBy(const Book& book, const RunSummary& run, const StudyPlan& plan);

/// "open, 2 still to take"; empty when nothing is.
std::string openWords(size_t owed);

}  // namespace ash
