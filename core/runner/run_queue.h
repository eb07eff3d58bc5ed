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
  /// Run before its turn, since this one waits for a person; empty when none does.
  std::optional<PlannedRun> waiting;
  std::vector<std::string> waitsFor;  ///< what somebody must change for that one
  StudyPlan plan;
  size_t left = 0;   ///< runs that are still to do, this one included; of a study until decided: at most
  size_t saved = 0;  ///< runs of the plan that are not needed, for what they were to tell is decided
};

enum class QueueOrder {
  AsPlanned,
  /// What needs a person is passed over for another run of the same round: a later round is never begun before, so that
  /// a drift of the room does not pose as a result.
  NobodyFirst,
};

/// The next run of a study's plan. Of one that runs until decided the runs there are analysed first, which takes a
/// tenth of a second each. On a simulated bench nothing is ever changed by hand. An error when there is no such study,
/// or nothing in it that could be run. `turnsPowerLimit`: a run on this machine does that by itself.
Result<QueuedRun> nextInQueue(const Book& book, const std::string& study, bool turnsPowerLimit = false,
                              QueueOrder order = QueueOrder::AsPlanned);

/// Readings by hand that a run which is over does not have. One that is to be taken once it has settled counts from the
/// moment the load was on: when exactly it had settled is not asked here. `measured` are the roles that an instrument
/// told.
std::vector<OwedReading> owedBy(const StudyPlan& plan, const RunFacts& facts, const std::set<std::string>& measured);

/// Readings that a person still owes a run: it is "open" until they are typed in. 0 for a run that does not count.
Result<std::vector<OwedReading>> owedBy(const Book& book, const RunSummary& run, const StudyPlan& plan);

/// "open, 2 still to take"; empty when nothing is.
std::string openWords(size_t owed);

}  // namespace ash
