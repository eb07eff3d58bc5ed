// SPDX-License-Identifier: GPL-3.0-or-later
// All figures of a study as rows for other programs: of each setup with its interval and difference, and of each run.
#pragma once

#include <string>

#include "model/json.h"
#include "report/study/study_report.h"

namespace ash {

/// RFC 4180, one header row; a row is a figure of a setup (`run` empty) or of a run (no interval). Numbers are as they
/// were worked out, in the unit of the row; shares are 0 to 1 with the unit "ratio". What is missing is empty.
std::string figuresCsv(const StudyReport& report);

/// The same as JSON, with question, answer, definitions of all figures, checks and runs.
Json figuresDocument(const StudyReport& report);

}  // namespace ash
