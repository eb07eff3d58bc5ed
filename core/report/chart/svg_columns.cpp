// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/chart/svg_columns.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "report/chart/label_text.h"
#include "report/chart/svg_chart.h"

namespace ash {
namespace {

constexpr double kPictureHeight = 330, kFoot = 260, kTopEdge = 50, kLeftEdge = 52, kPitch = 150, kWide = 44;
constexpr const char* kEmber = "#C4451A";

struct Scale {
  double top;
  double y(double value) const { return kFoot - value / top * (kFoot - kTopEdge); }
};

Element rectangle(double x, double y, double width, double height) {
  return std::move(Element::svg("rect").at("x", x).at("y", y).at("width", width).at("height", height));
}

Markup bar(const ChartColumn& column, double x, const Scale& scale) {
  const double y = scale.y(std::clamp(column.value, 0.0, scale.top));
  Markup svg;
  svg.add(rectangle(x + 3, y, kWide - 6, kFoot - y).set("fill", paperColour(column.setupIndex))).lineEnd();
  if (column.limit) {
    const double limit = scale.y(*column.limit);
    svg.add(rectangle(x, limit, kWide, kFoot - limit)
                .set("fill", "none")
                .set("stroke", column.isAtLimit ? kEmber : "#BDB6AB")
                .set("stroke-width", column.isAtLimit ? "2" : "1"))
        .lineEnd();
  }
  Element foot = Element::svg("line");
  foot.at("x1", x - 4).at("x2", x + kWide + 4).at("y1", kFoot).at("y2", kFoot);
  return svg.add(foot.set("stroke", "#24211E").set("stroke-width", "2")).lineEnd();
}

Markup marks(const ChartColumn& column, double x, const Scale& scale) {
  Markup svg;
  if (std::isfinite(column.low) && std::isfinite(column.high)) {
    const double at = x + kWide + 8;
    const std::string path = fmt::format("M{0:.1f} {1:.1f}V{2:.1f}M{3:.1f} {1:.1f}H{4:.1f}M{3:.1f} {2:.1f}H{4:.1f}", at,
                                         scale.y(column.low), scale.y(column.high), at - 3, at + 3);
    svg.add(Element::svg("path").set("d", path).set("stroke", "#24211E").set("fill", "none")).lineEnd();
  }
  double at = x + kWide + 18;
  for (const double repeat : column.repeats) {
    Element dot = Element::svg("circle");
    dot.at("cx", at).at("cy", scale.y(repeat)).set("r", "2.6").set("fill", paperColour(column.setupIndex));
    svg.add(dot).lineEnd();
    at += 8;
  }
  return svg;
}

Markup gridLine(double width, double tick, const Scale& scale, int digits) {
  const double y = scale.y(tick);
  Markup svg;
  svg.add(Element::svg("line").at("x1", kLeftEdge).at("x2", width - 20).at("y1", y).at("y2", y).set("class", "grid"));
  svg.add(svgText(kLeftEdge - 6, y + 4).set("text-anchor", "end").text(numberText(tick, digits)));
  return svg.lineEnd();
}

constexpr double kFont = 12, kLineHeight = 15;
constexpr size_t kNameLines = 2;

std::vector<std::string> nameOf(const ChartColumn& column) {
  return brokenLabel(column.label, kFont, kPitch - 12, kNameLines);
}

Markup captions(const ChartColumn& column, double x) {
  Markup svg;
  svg.add(svgText(x - 4, kFoot + 20).set("class", "title").text(column.figure)).lineEnd();
  double y = kFoot + 38;
  for (const std::string& line : nameOf(column)) {
    svg.add(svgText(x - 4, y).set("class", "label").set("fill", paperColour(column.setupIndex)).text(line)).lineEnd();
    y += kLineHeight;
  }
  Element under = svgText(x - 4, y + 2);
  if (column.isAtLimit) under.set("fill", kEmber);
  return svg.add(under.text(column.under)).lineEnd();
}

}  // namespace

Markup svgColumns(const ChartWords& words, const std::vector<ChartColumn>& columns) {
  Scale scale{1e-9};
  for (const ChartColumn& column : columns) scale.top = std::max({scale.top, column.value, column.limit.value_or(0)});
  scale.top *= 1.04;
  const double width = std::max(360.0, kLeftEdge + kPitch * static_cast<double>(columns.size()) + 20);
  const bool hasLongName =
      std::any_of(columns.begin(), columns.end(), [](const ChartColumn& column) { return nameOf(column).size() > 1; });
  Element svg = svgPicture(width, kPictureHeight + (hasLongName ? kLineHeight : 0), words.spoken);
  svg.add(svgTitle(kLeftEdge, words.title)).lineEnd();
  const std::vector<double> ticks = niceTicks(0, scale.top, 4);
  for (const double tick : ticks) svg.add(gridLine(width, tick, scale, digitsOfTicks(ticks)));
  svg.add(svgText(kLeftEdge - 6, kTopEdge - 12).set("text-anchor", "end").text(words.unit)).lineEnd();
  double x = kLeftEdge + 16;
  for (const ChartColumn& column : columns) {
    svg.add(bar(column, x, scale)).add(marks(column, x, scale)).add(captions(column, x));
    x += kPitch;
  }
  return svg.whole().lineEnd();
}

}  // namespace ash
