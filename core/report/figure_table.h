// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of a load as tables: those that bear on the question first, all others folded away.
#pragma once

#include "report/markup/markup.h"
#include "report/page_form.h"
#include "report/study/study_report.h"

namespace ash {

/// Where a figure on the page comes from: run, metric, the number unrounded, its definition and window.
void traceTo(const StudyReport& report, const ComparisonRow& row, const Figure& metric, bool isDifference,
             Element& element);

/// The figures that bear on the question, the one that is asked for first.
std::vector<Figure> figuresOfQuestion(const StudyReport& report, const LoadStanding& load);

/// Both tables, and a line on what intervals and marks are.
Markup figureTables(const StudyReport& report, const LoadStanding& load, PageForm form);

}  // namespace ash
