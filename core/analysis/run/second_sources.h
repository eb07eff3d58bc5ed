// SPDX-License-Identifier: GPL-3.0-or-later
// Two meters of one thing: the power at the wall, the noise.
#pragma once

#include <vector>

#include "analysis/run/figures.h"

namespace ash {

/// Those of a run. Where the places of both are stated and are not the same, they measure two things: then none.
std::vector<SecondSource> secondSourcesOf(const RunFacts& facts, const Figures& figures);

}  // namespace ash
