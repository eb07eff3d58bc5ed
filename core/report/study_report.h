// SPDX-License-Identifier: GPL-3.0-or-later
// The write-up of a study: what was found, as one HTML page that needs nothing beside it.
#pragma once

#include <string>
#include <vector>

#include "analysis/compare.h"
#include "model/study.h"

namespace ash {

struct StudyReport {
  Study study;
  std::vector<AnalyzedRun> runs;
  std::vector<RunSummary> summaries;  ///< in the order of runs
  Comparison comparison;
};

/// The metric that the study is about: over room where there is a room, else temperature, else work rate.
std::string leadingMetric(const StudyReport& report);

/// The answer in one or two sentences, with intervals and under which load.
std::string answerText(const StudyReport& report);

/// The page. The same report gives the same bytes.
std::string htmlPage(const StudyReport& report);

}  // namespace ash
