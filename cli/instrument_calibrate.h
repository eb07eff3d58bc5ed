// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg instruments calibrate`.
#pragma once

#include "cli/command.h"

namespace ash::cli {

/// Adds it to `ashg instruments`.
void addCalibrate(CLI::App& command, Action& action);

}  // namespace ash::cli
