// SPDX-License-Identifier: GPL-3.0-or-later
// Where every number of the page comes from: a note for each figure, with its definition and the runs of each setup.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/markup/markup.h"
#include "report/study/study_report.h"

namespace ash {

/// The block of notes, and its id in the plan.
inline constexpr char kNotesBlock[] = "notes", kRunsBlock[] = "runs";

/// A number as a link to its note; as text alone where the notes are left out, or the row is none of the report's.
Markup linkedNumber(const StudyReport& report, const ComparisonRow& row, const Figure& metric,
                    const std::string& words);

/// All notes, load by load, of the figures that are listed.
Markup notes(const StudyReport& report);
size_t noteCount(const StudyReport& report);

/// "run-wren-01": where a run stands in the list of runs.
std::string runAnchor(const std::string& run);

/// The runs that a link of the page is about: a number's ("#note-1-2-cpu.temp") or a run's own; none for any other.
std::optional<std::vector<std::string>> runsOfLink(const StudyReport& report, const std::string& link);

}  // namespace ash
