// SPDX-License-Identifier: GPL-3.0-or-later
// What stands in the demo book: studies, and what befalls their runs.
#pragma once

#include <string>
#include <vector>

#include "model/entry_line.h"
#include "model/study_plan.h"
#include "runner/run_recorder.h"

namespace ash {

/// Something that befalls the nth run of a cell.
struct Incident {
  std::string setup, load;
  int nth = 1;
  std::optional<ScriptedEnd> end;
  std::string voidReason;
  std::string phases;  ///< other phases than planned; empty = as planned
};

/// A line that the tester typed, `afterLoadS` after load start.
struct TypedLine {
  double afterLoadS = 0;
  std::string line;
};

struct DemoStudy {
  Study study;
  StudyPlan plan;
  std::string idPrefix;
  std::string firstStart;  ///< "2026-09-24T10:00:00+02:00"
  std::vector<Incident> incidents;
  std::vector<TypedLine> typed;  ///< in every run that lasted so long; "noise ?" takes the noise of the bench
};

std::vector<DemoStudy> demoStudies();

}  // namespace ash
