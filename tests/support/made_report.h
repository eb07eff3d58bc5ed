// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <vector>

#include "report/study/study_report.h"

namespace ash::tests {

/// A study worked out of runs that are there, all completed.
inline StudyReport madeReport(Study study, const StudyPlan& plan, const std::vector<AnalyzedRun>& all,
                              const std::string& started = {}) {
  study.plan = planToJson(plan);
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  std::vector<RunSummary> summaries;
  for (const AnalyzedRun& run : all) {
    runs.push_back(std::make_shared<const AnalyzedRun>(run));
    RunSummary summary;
    summary.info.id = run.run.name;
    summary.info.setup = run.run.facts.setup;
    summary.info.load = run.run.facts.load;
    summary.info.started = started;
    summary.info.outcome = Outcome::Completed;
    summaries.push_back(summary);
  }
  return *assembleStudy(std::move(study), std::move(summaries), std::move(runs));
}

}  // namespace ash::tests
