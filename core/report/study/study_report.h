// SPDX-License-Identifier: GPL-3.0-or-later
// A study with everything that was worked out of it: what Standings shows and the page is made of.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "analysis/comparison/compare.h"
#include "analysis/decision/decision.h"
#include "book/book.h"
#include "model/attachment.h"
#include "model/study_plan.h"
#include "report/study/earlier_work.h"

namespace ash {

/// The runs under one load, held against each other.
struct LoadStanding {
  std::string load;
  Comparison comparison;
  std::vector<SetupDecision> decisions;  ///< of a study that runs until decided
  std::vector<EarlierRow> earlier;       ///< what is also shown, against the same reference
};

/// What the pictures of a page may have together.
inline constexpr long long kMostPicturesB = 12LL << 20;

/// A picture that is kept with a setup.
struct StudyPicture {
  size_t setup = 0;   ///< its place in the study
  Attachment kept;    ///< what is known of it
  std::string bytes;  ///< as they are kept; empty where they were not asked for, are too many, or are damaged
};

struct StudyReport {
  Study study;
  StudyPlan plan;
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  std::vector<RunSummary> summaries;  ///< in the order of runs
  std::vector<LoadStanding> loads;    ///< in the study's order; a load without a run that counts is not in it
  std::vector<EarlierSetup> earlier;  ///< what the plan shows beside its own
  std::vector<StudyPicture> pictures = {};
};

/// The pictures of the study's setups among what a book keeps, without their bytes, in the order of the setups.
std::vector<StudyPicture> picturesAmong(const Study& study, const std::vector<Attachment>& kept);

std::vector<const AnalyzedRun*> pointersTo(const std::vector<std::shared_ptr<const AnalyzedRun>>& runs);

/// The metric that is asked for: the plan's where a row has it, else over room where there is a room, else temperature,
/// else work rate.
Figure leadingMetric(const StudyReport& report, const Comparison& comparison);

/// Holds the runs of every load against the plan's reference setup, or against `referenceRun` in its own load.
/// The field is levelled first where the plan says so. Fails only when `referenceRun` is none of the runs.
Result<StudyReport> assembleStudy(Study study, std::vector<RunSummary> summaries,
                                  std::vector<std::shared_ptr<const AnalyzedRun>> runs,
                                  const std::string& referenceRun = "", std::vector<EarlierSetup> earlier = {});

/// Told after each run that was worked out, of how many.
using StudyProgress = std::function<void(size_t done, size_t all)>;

/// Reads a study out of a book and works it out. Fails when there is no such study or no finished run in it.
Result<StudyReport> gatherStudy(const Book& book, const std::string& study, const std::string& referenceRun = "",
                                const StudyProgress& progress = {});

/// Place of a row's setup in its study, which is its colour; of a levelled row that of its first rung.
int setupIndexOf(const StudyReport& report, const ComparisonRow& row);

/// A name for the study's page: letters, digits and dashes.
std::string pageFileName(const std::string& study, const std::vector<Study>& studies);

}  // namespace ash
