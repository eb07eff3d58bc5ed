// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of one channel: means of its phases, over room, headroom, settling.
#pragma once

#include <optional>
#include <vector>

#include "analysis/run/context.h"

namespace ash {

ChannelFigures figuresOfChannel(const RunContext& context, const Channel& channel);

/// How a temperature warmed up under load; nothing where it cannot be judged.
std::optional<SettlingVerdict> settlingOf(const RunContext& context, const std::string& channel);

}  // namespace ash
