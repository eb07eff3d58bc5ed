// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/chart/stand_alone.h"

#include <fmt/format.h>

#include <array>
#include <utility>

#include "report/markup/markup.h"

namespace ash {

std::string standAloneSvg(std::string svg, const std::string& family) {
  constexpr std::array<std::pair<std::string_view, std::string_view>, 4> kClasses = {
      {{"class='title'", "font-size='13' font-weight='600' fill='#24211E'"},
       {"class='label'", "font-weight='600'"},
       {"class='grid'", "stroke='#ECE8E1'"},
       {"class='axis'", "stroke='#BDB6AB'"}}};
  for (const auto& [name, attributes] : kClasses) {
    for (size_t at = svg.find(name); at != std::string::npos; at = svg.find(name, at + attributes.size()))
      svg.replace(at, name.size(), attributes);
  }
  return svg.insert(svg.find('>'), fmt::format(" font-family='{}' font-size='12' fill='#5C554E'", escaped(family)));
}

}  // namespace ash
