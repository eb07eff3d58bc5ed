// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a study that runs until decided may stop: looked at after every round of repeats, from the second on.
#pragma once

#include <string>
#include <vector>

#include "analysis/comparison/compare.h"
#include "model/run_order.h"
#include "model/study_plan.h"

namespace ash {

/// What is known of one setup against the reference.
struct SetupDecision {
  std::string setup;
  int rounds = 0;                   ///< repeats after which it was decided, else those there are
  bool isOpen = true;               ///< another round is needed
  Verdict verdict = Verdict::None;  ///< better, worse, higher, lower or within margin; else why it cannot be told
  std::string reason;
};

/// Looks at the runs of one load round by round: after k repeats each a setup is decided when the interval of the
/// figure, as sure as that look has to be (options.confidenceByRepeats), lies beyond zero or inside the margin. What
/// was decided stays so; the others, and what cannot be compared as yet, go on to `mostRounds`. The reference has no
/// entry.
std::vector<SetupDecision> decisionsOf(const std::vector<const AnalyzedRun*>& runs, const CompareOptions& options,
                                       const Figure& figure, int mostRounds);

/// The same as the study is planned: its figure, its margin, against its own reference. Empty while that has no run.
std::vector<SetupDecision> decisionsOf(const Study& study, const StudyPlan& plan,
                                       const std::vector<const AnalyzedRun*>& runsOfLoad);

/// The cells of a load that need no further run; the reference is one of them once every other setup is.
std::vector<DecidedCell> decidedCells(const Study& study, const std::string& reference, const std::string& load,
                                      const std::vector<SetupDecision>& decisions);

/// How a plan compares: its margin, its stated scatter, its level and, where it runs until decided, how sure each look
/// has to be with so many setups (the reference among them). The reference is left open.
CompareOptions compareOptionsOf(const StudyPlan& plan, size_t setups);

/// The figure that is asked for: the plan's where a row has it, else over room where a room was read, else temperature,
/// of the device that `runs` watch; else the work rate.
Figure leadingFigure(const StudyPlan& plan, const std::vector<const AnalyzedRun*>& runs, const Comparison& comparison);

/// The first completed run of a setup, else its first that is not void; empty when it has none.
std::string firstRunOf(const std::vector<const AnalyzedRun*>& runs, const std::string& setup);

}  // namespace ash
