// SPDX-License-Identifier: GPL-3.0-or-later
// The folder for sockets and signs of life: private to the user, gone after a restart.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

/// $XDG_RUNTIME_DIR/ash-gauge, or /tmp/ash-gauge-UID where there is none; made with mode 0700 and refused when it
/// belongs to somebody else.
Result<std::string> runtimeFolder();

/// A folder below it, made when missing.
Result<std::string> runtimeSubfolder(const std::string& name);

}  // namespace ash
