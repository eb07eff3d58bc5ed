// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg book recover`: after a crash.
#pragma once

#include <string>

#include "model/json.h"
#include "model/study.h"

namespace ash::cli {

/// A run as `book info` and `book recover` tell it (docs/command-line.md).
Json runJson(const RunSummary& run);

/// Closes interrupted runs and tells of each with its last minute. A book that is damaged is not touched: what can be
/// read of it goes into a new one beside it, and the rest is listed. Returns the exit status.
int recoverBook(const std::string& path, bool json);

}  // namespace ash::cli
