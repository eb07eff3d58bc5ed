// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/markup/markup.h"
#include "report/study/study_report.h"

namespace ash {

/// What the runs were measured with: each reading with its instrument, what that may be off by, its step, and where it
/// stands. Empty where no run has readings.
Markup instrumentTable(const StudyReport& report);

}  // namespace ash
