// SPDX-License-Identifier: GPL-3.0-or-later
// Single misread samples.
#pragma once

#include <vector>

#include "model/samples.h"

namespace ash {

/// Readings that are out and back within one sample, faster than heat can move or beyond what the channel ever shows;
/// their places go to `leftOut`.
std::vector<Problem> findSpikes(const Log& log, const Channel& channel, std::vector<size_t>& leftOut);

}  // namespace ash
