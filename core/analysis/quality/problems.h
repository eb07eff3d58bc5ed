// SPDX-License-Identifier: GPL-3.0-or-later
// What a reader must know before the figures are quoted.
#pragma once

#include <vector>

#include "analysis/run/context.h"

namespace ash {

/// Holes of the log and of single channels.
std::vector<Problem> findGapProblems(const RunContext& context);
/// Readings that stand still while they should move, or end at the top of their scale.
std::vector<Problem> findUnmoved(const RunContext& context);
/// Short excursions that no load explains.
std::vector<Problem> findExcursions(const RunContext& context);
/// Units and sources that contradict each other.
std::vector<Problem> findImplausible(const RunContext& context);
/// What was wrong with the run itself: room, rest, length, other work, fans.
std::vector<Problem> findRunProblems(const RunContext& context, const Figures& figures);

/// Second meters of one thing that say something else.
std::vector<Problem> findSecondSources(const RunContext& context, const Figures& figures);

}  // namespace ash
