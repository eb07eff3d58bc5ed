// SPDX-License-Identifier: GPL-3.0-or-later
// Charts as they stand on the page.
#pragma once

#include <optional>
#include <vector>

#include "report/charts/study_charts.h"
#include "report/markup/markup.h"
#include "report/page_form.h"

namespace ash {

/// A chart in the sizes that a form of the page needs: on a page for either, the style sheet shows one of two.
Markup pageChart(const Chart& chart, PageForm form);
Markup pageChart(const std::optional<Chart>& chart, PageForm form);
Markup pageCharts(const std::vector<Chart>& charts, PageForm form);

}  // namespace ash
