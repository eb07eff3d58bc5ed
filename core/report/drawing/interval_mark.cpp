// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/interval_mark.h"

#include <algorithm>

#include "report/drawing/chart_look.h"
#include "report/drawing/svg_chart.h"

namespace ash {

Markup svgIntervalMark(const IntervalMark& mark) {
  constexpr double kWidth = 72, kHeight = 12, kReach = 33, kLeast = 1.5;
  const double middle = kWidth / 2, y = kHeight / 2;
  const auto x = [&](double share) { return middle + kReach * std::clamp(share, -1.0, 1.0); };
  const std::string colour = paperColour(mark.setupIndex);
  // An interval that is narrower than a hair is still seen.
  const double from = std::min(x(mark.low), x(mark.value) - kLeast),
               to = std::max(x(mark.high), x(mark.value) + kLeast);
  Element svg = svgPicture(kWidth, kHeight, mark.words);
  svg.set("class", "mark").set("width", "72").set("height", "12");
  svg.add(Element::svg("line").at("x1", 2).at("x2", kWidth - 2).at("y1", y).at("y2", y).set("stroke", "#D9D4CC"));
  svg.add(Element::svg("line")
              .at("x1", middle)
              .at("x2", middle)
              .at("y1", 1)
              .at("y2", kHeight - 1)
              .set("stroke", "#5C554E"));
  svg.add(Element::svg("line")
              .at("x1", from)
              .at("x2", to)
              .at("y1", y)
              .at("y2", y)
              .set("stroke", colour)
              .set("stroke-width", "3"));
  return svg.add(Element::svg("circle").at("cx", x(mark.value)).at("cy", y).set("r", "3").set("fill", colour)).whole();
}

}  // namespace ash
