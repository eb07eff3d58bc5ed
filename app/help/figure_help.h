// SPDX-License-Identifier: GPL-3.0-or-later
// How a figure is defined and worked out: its row of the catalogue, and the section of docs/method.md on it.
#pragma once

#include "analysis/catalogue/figure.h"
#include "app/help/help_words.h"

namespace ash {

/// Definition, unit, which way is better, and the section itself with its formulas and sources; CommonMark.
HelpWords helpOf(const Figure& figure);

/// The heading of that section in docs/method.md.
QString methodSectionOf(FigureId figure);

/// A section of docs/method.md by its heading, without it; empty when there is none.
QString methodSection(const QString& heading);

}  // namespace ash
