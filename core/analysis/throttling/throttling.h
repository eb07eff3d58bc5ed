// SPDX-License-Identifier: GPL-3.0-or-later
// What was slowed down, when, by how much and why.
#pragma once

#include <vector>

#include "analysis/run/context.h"

namespace ash {

/// Of every device that has a clock or delivers work.
std::vector<Throttling> findThrottling(const RunContext& context);

/// Throttling alone, for somebody who follows a run: no settling is fitted.
std::vector<Throttling> throttlingOf(const RunLog& run);

}  // namespace ash
