// SPDX-License-Identifier: GPL-3.0-or-later
// A column of a foreign log as a reading of a run.
#pragma once

#include "intake/log_plan.h"
#include "model/reading.h"

namespace ash {

/// Its name, role, quantity and stored unit.
Reading readingOf(const PlannedColumn& column);

}  // namespace ash
