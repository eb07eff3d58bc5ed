// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <utility>
#include <vector>

#include "readings/gauges/source.h"

namespace ash {

/// Sweeps that were taken together: (index of the source, its sweep).
struct Tick {
  std::vector<std::pair<int, Sweep>> sweeps;
};

}  // namespace ash
