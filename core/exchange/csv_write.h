// SPDX-License-Identifier: GPL-3.0-or-later
// A log as CSV (docs/analysis-contract.md §1).
#pragma once

#include <string>

#include "model/result.h"
#include "model/samples.h"

namespace ash {

/// The text: header "time [s],name [unit],…", numbers in the shortest form that reads back the same, gaps empty.
std::string csvText(const Log& log);

/// Writes beside the target and moves into place: a failure leaves no half-written file.
Status writeCsvLog(const Log& log, const std::string& path);

}  // namespace ash
