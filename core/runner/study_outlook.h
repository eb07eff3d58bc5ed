// SPDX-License-Identifier: GPL-3.0-or-later
// What a study costs and what it can tell, from earlier runs of its bench: asked before the first run.
#pragma once

#include <functional>

#include "analysis/decision/study_cost.h"
#include "book/book.h"
#include "model/study_plan.h"

namespace ash {

struct StudyOutlook {
  Figure figure{"cpu.over_ambient_k"};  ///< that the study asks for; over room where nothing says otherwise
  RepeatScatter scatter;                ///< of its repeats, in its unit
  bool isOfOtherStudies = false;        ///< the scatter: this one has no repeats yet
  int setups = 0, loads = 0;
  double runS = 0;            ///< what a run takes: the mean of the completed ones, else as long as the phases may last
  int repeats = 0;            ///< as planned
  double margin = kMissing;   ///< that was stated, in the figure's unit
  double toldNow = kMissing;  ///< the smallest difference that the planned repeats tell in 90 of 100 studies
  int repeatsForMargin = 0;   ///< that would tell the margin so often; 0 = none stated, or more than 100

  double hours(int eachRepeats) const { return setups * loads * eachRepeats * runS / 3600; }
};

/// What earlier runs tell about a study's repeats; depends on the runs, the bench and the figure, not on the rest of
/// the plan.
struct RunEvidence {
  Figure figure{"cpu.over_ambient_k"};
  RepeatScatter scatter;          ///< missing where no run tells it
  bool isOfOtherStudies = false;  ///< the scatter
  double runS = kMissing;         ///< mean of the completed ones
  double typical = 0;             ///< a value of the figure, for what is assumed as a share of it
};

/// Figures of a run that are known already; null when they are not.
using KnownFigures = std::function<const AnalyzedRun*(const std::string& run)>;

/// Reads at most a dozen runs of the study and, where those tell no scatter, the latest dozen of others on its bench,
/// and analyses those that are not known: a tenth of a second each.
Result<RunEvidence> evidenceFor(const Book& book, const Study& study, const KnownFigures& known = {});

/// What evidenceFor() would look at, as a text: equal texts, equal evidence.
Result<std::string> evidenceKey(const Book& book, const Study& study);

/// What nobody has measured yet is the stated repeatability, else assumed (RepeatScatter::runs is 0). Pure.
StudyOutlook outlookOf(const Study& study, const RunEvidence& evidence);

/// The same with as many repeats as fit into so many hours (0 when not even one run of each does; at most 1000), and
/// without the margin.
StudyOutlook outlookWithin(StudyOutlook outlook, double hours);

/// One or two sentences: "The 3 repeats planned tell 0.8 K or more in 9 of 10 studies (9 runs, about 4 h 30 min). …"
std::string outlookWords(const StudyOutlook& outlook);
/// Where the scatter comes from: "Repeats scatter by 0.21 K (standard deviation of 9 runs of this bench)."
std::string scatterWords(const StudyOutlook& outlook);

}  // namespace ash
