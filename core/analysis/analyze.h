// SPDX-License-Identifier: GPL-3.0-or-later
// A log in, every figure out.
#pragma once

#include <optional>

#include "analysis/run/figures.h"

namespace ash {

/// Works every figure out. Pure: the same log and facts give the same figures. Of a log with several loads they are
/// those of the last one long enough to have a window, or of `loadNumber` (from 1; there must be so many, see
/// Figures::loads).
Figures analyzeRun(const RunLog& run, std::optional<size_t> loadNumber = {});

}  // namespace ash
