// SPDX-License-Identifier: GPL-3.0-or-later
// The way of the heat, and the fans that carry it off.
#pragma once

#include <vector>

#include "analysis/run/context.h"

namespace ash {

/// Resistance, headroom and the hottest room of every loaded device. Needs channels and throttling of `figures`.
std::vector<Heat> heatOf(const RunContext& context, const Figures& figures);

/// When each fan began to answer, and whether it was held in the window.
std::vector<FanFigures> fansOf(const RunContext& context);

}  // namespace ash
