// SPDX-License-Identifier: GPL-3.0-or-later
// One task that is done in several ways: what may be held against each other, and what not.
#pragma once

#include <string>
#include <vector>

#include "analysis/comparison/compare.h"

namespace ash {

/// Whether two runs of one load carried it out in two ways, as far as it was kept what each did.
bool isOtherWay(const AnalyzedRun& a, const AnalyzedRun& b);

/// What the load did, in a few words that tell it from the other's: "integer", "vector, threads 6", the line of a
/// command.
std::string wayText(const AnalyzedRun& run, const AnalyzedRun& other);

/// Whether the ways are of two kinds, or two lines: that both do one task then is the word of whoever named them so.
/// Their units of work are not the same.
bool isTaskByName(const AnalyzedRun& a, const AnalyzedRun& b);

/// Whether both did the same task: as many units of work, as many passes, or what is one task by its name to its end.
bool didEqualWork(const AnalyzedRun& a, const AnalyzedRun& b);

/// Takes the verdict from figures of a processor or graphics that worked in one of two ways only: its heat goes another
/// way there. Its power stays, it is part of what the way costs. Of two kinds, also from rates of work.
void refuseOtherWay(MetricRow& row, const std::vector<const AnalyzedRun*>& runs,
                    const std::vector<const AnalyzedRun*>& others, const Figure& metric);

}  // namespace ash
