// SPDX-License-Identifier: GPL-3.0-or-later
// The demo book's ladder: "How low can the mixing box go?", climbed by itself on the simulated bench.
#pragma once

#include <functional>
#include <string>

#include "model/result.h"

namespace ash {

inline constexpr int kDemoLadderRuns = 7;  ///< as it comes out on the bench; its test says when it no longer does

/// Climbs it into a book that is being made. `onRun` is told of each run that is done.
Status recordDemoLadder(const std::string& bookPath, const std::function<void()>& onRun);

}  // namespace ash
