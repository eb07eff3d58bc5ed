// SPDX-License-Identifier: GPL-3.0-or-later
// The demo book: made-up studies of a home recording studio's quiet PC, recorded on the simulated benches. Every state
// a run can have is in it.
#pragma once

#include <functional>
#include <string>

#include "model/result.h"

namespace ash {

/// Writes the demo book to `path`, which must not exist yet. The same version writes the same studies, runs and samples
/// each time. `onProgress` is told the number of runs done and of all. A book that could not be finished is removed.
Status writeDemoBook(const std::string& path, const std::function<void(int done, int all)>& onProgress);

}  // namespace ash
