// SPDX-License-Identifier: GPL-3.0-or-later
// What the instruments behind a figure may be off by: the same for every run they measured, so it goes into a figure's
// interval and cancels in the difference of two runs that one instrument measured.
#pragma once

#include <string>

#include "analysis/catalogue/figure.h"
#include "analysis/run/figures.h"

namespace ash {

/// Of one figure: standard uncertainty, and the instruments it comes from ("" = not named, taken as the machine's own).
struct FigureAccuracy {
  double se = 0;
  std::string instrument;
};

/// A stated accuracy ±a is taken as a rectangle, its standard uncertainty a/√3 (JCGM 100:2008, 4.3.7). Figures over
/// room have two instruments; energies and what is divided by them that of their power, as a share.
FigureAccuracy accuracyOf(const RunFacts& facts, const Figures& figures, const Figure& figure, double value);

}  // namespace ash
