// SPDX-License-Identifier: GPL-3.0-or-later
// What each factor does, as a table of the page.
#pragma once

#include "report/markup/markup.h"
#include "report/study/study_report.h"

namespace ash {

/// One row for each factor's level within every level of the others, and one for their mean, by the figure the study
/// asks for. Empty where the study has no factors.
Markup effectTable(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
