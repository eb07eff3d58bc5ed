// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/svg_columns.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "report/svg_chart.h"

namespace ash {
namespace {

constexpr double kPictureHeight = 330, kFoot = 260, kTopEdge = 50, kLeftEdge = 52, kPitch = 150, kWide = 44;
constexpr const char* kEmber = "#C4451A";

struct Scale {
  double top;
  double y(double value) const { return kFoot - value / top * (kFoot - kTopEdge); }
};

std::string bar(const ChartColumn& column, double x, const Scale& scale) {
  const double y = scale.y(std::clamp(column.value, 0.0, scale.top));
  std::string svg = fmt::format("<rect x='{:.1f}' y='{:.1f}' width='{:.1f}' height='{:.1f}' fill='{}'/>\n", x + 3, y,
                                kWide - 6, kFoot - y, paperColour(column.setupIndex));
  if (column.limit) {
    const double limit = scale.y(*column.limit);
    const char* ink = column.isAtLimit ? kEmber : "#BDB6AB";
    svg += fmt::format(
        "<rect x='{:.1f}' y='{:.1f}' width='{:.1f}' height='{:.1f}' fill='none' stroke='{}' stroke-width='{}'/>\n", x,
        limit, kWide, kFoot - limit, ink, column.isAtLimit ? 2 : 1);
  }
  svg += fmt::format("<line x1='{0:.1f}' x2='{1:.1f}' y1='{2:.1f}' y2='{2:.1f}' stroke='#24211E' stroke-width='2'/>\n",
                     x - 4, x + kWide + 4, kFoot);
  return svg;
}

std::string marks(const ChartColumn& column, double x, const Scale& scale) {
  std::string svg;
  if (std::isfinite(column.low) && std::isfinite(column.high)) {
    const double at = x + kWide + 8;
    svg += fmt::format(
        "<path d='M{0:.1f} {1:.1f}V{2:.1f}M{3:.1f} {1:.1f}H{4:.1f}M{3:.1f} {2:.1f}H{4:.1f}' "
        "stroke='#24211E' fill='none'/>\n",
        at, scale.y(column.low), scale.y(column.high), at - 3, at + 3);
  }
  double at = x + kWide + 18;
  for (const double repeat : column.repeats) {
    svg += fmt::format("<circle cx='{:.1f}' cy='{:.1f}' r='2.6' fill='{}'/>\n", at, scale.y(repeat),
                       paperColour(column.setupIndex));
    at += 8;
  }
  return svg;
}

}  // namespace

std::string svgColumns(const std::string& title, const std::string& unit, const std::vector<ChartColumn>& columns) {
  Scale scale{1e-9};
  for (const ChartColumn& column : columns) scale.top = std::max({scale.top, column.value, column.limit.value_or(0)});
  scale.top *= 1.04;
  const double width = std::max(360.0, kLeftEdge + kPitch * static_cast<double>(columns.size()) + 20);
  std::string svg =
      fmt::format("<svg viewBox='0 0 {:.0f} {:.0f}' role='img' aria-label='{}' xmlns='http://www.w3.org/2000/svg'>\n",
                  width, kPictureHeight, escaped(title));
  svg += fmt::format("<text x='{:.1f}' y='18' class='title'>{}</text>\n", kLeftEdge, escaped(title));
  for (const double tick : niceTicks(0, scale.top, 4)) {
    const double y = scale.y(tick);
    svg += fmt::format(
        "<line x1='{0:.1f}' x2='{1:.1f}' y1='{2:.1f}' y2='{2:.1f}' class='grid'/>"
        "<text x='{3:.1f}' y='{4:.1f}' text-anchor='end'>{5}</text>\n",
        kLeftEdge, width - 20, y, kLeftEdge - 6, y + 4, numberText(tick, scale.top < 3 ? 1 : 0));
  }
  svg += fmt::format("<text x='{:.1f}' y='{:.1f}' text-anchor='end'>{}</text>\n", kLeftEdge - 6, kTopEdge - 12,
                     escaped(unit));
  double x = kLeftEdge + 16;
  for (const ChartColumn& column : columns) {
    svg += bar(column, x, scale) + marks(column, x, scale);
    svg +=
        fmt::format("<text x='{:.1f}' y='{:.1f}' class='title'>{}</text>\n", x - 4, kFoot + 20, escaped(column.figure));
    svg += fmt::format("<text x='{:.1f}' y='{:.1f}' class='label' fill='{}'>{}</text>\n", x - 4, kFoot + 38,
                       paperColour(column.setupIndex), escaped(column.label));
    svg += fmt::format("<text x='{:.1f}' y='{:.1f}'{}>{}</text>\n", x - 4, kFoot + 55,
                       column.isAtLimit ? fmt::format(" fill='{}'", kEmber) : "", escaped(column.under));
    x += kPitch;
  }
  return svg + "</svg>\n";
}

}  // namespace ash
