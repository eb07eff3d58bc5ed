// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/command.h"

namespace ash::cli {

void addStandInSensor(CLI::App& standIn, Action& action);

}  // namespace ash::cli
