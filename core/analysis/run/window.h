// SPDX-License-Identifier: GPL-3.0-or-later
// The part of a run that figures are taken from.
#pragma once

#include <optional>
#include <vector>

#include "analysis/run/context.h"

namespace ash {

/// The measure phase, else from where it has settled, else the last part of the load; nothing without a load.
std::optional<Window> chooseWindow(const RunContext& context, const std::optional<SettlingVerdict>& watched);

}  // namespace ash
