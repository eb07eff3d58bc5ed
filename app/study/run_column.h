// SPDX-License-Identifier: GPL-3.0-or-later
// A run of the study in hand as a budget column.
#pragma once

#include "app/look/budget_column.h"
#include "model/study.h"

namespace ash {

class StudyDesk;

/// Its watched temperature over room in its window, and how the run ended.
look::ColumnSpec columnOfRun(const StudyDesk& desk, const RunSummary& run);

}  // namespace ash
