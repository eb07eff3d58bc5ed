// SPDX-License-Identifier: GPL-3.0-or-later
// A book as the window sees it. Values handed from the keeper's thread to the interface; never changed after that.
#pragma once

#include <QString>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "book/book.h"
#include "knobs/knob.h"
#include "ladder/ladder.h"
#include "model/active_parts.h"
#include "model/attachment.h"
#include "model/study.h"
#include "report/study/study_report.h"
#include "runner/interrupted.h"
#include "runner/readiness.h"
#include "runner/study_outlook.h"

namespace ash {

struct BookView {
  QString path;
  std::vector<Study> studies;
  std::vector<RunSummary> runs;
  std::vector<Ladder> ladders;                                 ///< those that can be read
  std::vector<Attachment> attachments;                         ///< pictures and other files of setups and runs
  std::vector<NamedProcedure> procedures;                      ///< by name, the newest version first
  std::map<std::string, std::vector<ActivePart>> unconfirmed;  ///< by study: what nobody has allowed on this machine
};

using InterruptedRuns = std::vector<InterruptedRun>;
using KnobList = std::vector<Knob>;

/// A study as far as it has been worked out.
struct ReportView {
  std::string study;
  std::shared_ptr<const StudyReport> report;
  int done = 0;  ///< runs worked out
  int all = 0;
};

/// What a study costs and can tell.
struct OutlookView {
  std::string study;
  StudyOutlook outlook;
};

}  // namespace ash

Q_DECLARE_METATYPE(std::shared_ptr<const ash::BookView>)
Q_DECLARE_METATYPE(std::shared_ptr<const ash::OutlookView>)
Q_DECLARE_METATYPE(std::shared_ptr<const ash::InterruptedRuns>)
