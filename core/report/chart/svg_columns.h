// SPDX-License-Identifier: GPL-3.0-or-later
// Ranked budget columns as SVG: foot = room, top = limit, margin and repeats beside the column.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/markup/markup.h"

namespace ash {

struct ChartColumn {
  std::string label;
  std::string figure;  ///< as written: "57.3 K"
  std::string under;   ///< a line below the label: "± 0.5 K"
  double value = 0, low = 0, high = 0;
  std::optional<double> limit;
  std::vector<double> repeats;
  int setupIndex = 0;
  bool isAtLimit = false;
};

struct ChartWords {
  std::string title, unit;
  std::string spoken;  ///< what is to be seen, to who cannot see it
};

/// The whole <svg> element. All values share one scale from zero. Long names are broken into two lines.
Markup svgColumns(const ChartWords& words, const std::vector<ChartColumn>& columns);

}  // namespace ash
