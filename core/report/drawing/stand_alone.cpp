// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/stand_alone.h"

#include <fmt/format.h>

#include "report/markup/markup.h"

namespace ash {

std::string standAloneSvg(std::string svg, const std::string& family) {
  return svg.insert(svg.find('>'), fmt::format(" font-family='{}'", escaped(family)));
}

}  // namespace ash
