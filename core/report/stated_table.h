// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/markup/markup.h"
#include "report/study/study_report.h"

namespace ash {

/// What was expected and what is claimed, beside what was measured; empty where nothing was stated.
Markup statedTable(const StudyReport& report);

}  // namespace ash
