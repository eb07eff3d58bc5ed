// SPDX-License-Identifier: GPL-3.0-or-later
// A log in, every figure out.
#pragma once

#include "analysis/run/figures.h"

namespace ash {

/// Works every figure out. Pure: the same log and facts give the same figures.
Figures analyzeRun(const RunLog& run);

}  // namespace ash
