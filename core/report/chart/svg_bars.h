// SPDX-License-Identifier: GPL-3.0-or-later
// Ranked bars as SVG, one below the other: for more setups than columns could be named for.
#pragma once

#include "report/chart/svg_columns.h"

namespace ash {

/// The whole <svg> element. All values share one scale from zero; the limit is a tick.
Markup svgBars(const ChartWords& words, const std::vector<ChartColumn>& columns);

}  // namespace ash
