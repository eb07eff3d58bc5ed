// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/chart/svg_bars.h"

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "report/chart/label_text.h"
#include "report/chart/svg_chart.h"

namespace ash {
namespace {

constexpr double kWidthPx = 768, kTopPx = 34, kRowPx = 30, kBarPx = 14, kNamePx = 200, kFigurePx = 150, kFootPx = 24;
constexpr double kFontPx = 12;
constexpr const char* kEmberColour = "#C4451A";

struct Across {
  double top = 1e-9;
  double x(double value) const {
    return kNamePx + std::clamp(value / top, 0.0, 1.0) * (kWidthPx - kNamePx - kFigurePx);
  }
};

Markup rowOf(const ChartColumn& column, double y, const Across& scale) {
  const std::string colour = paperColour(column.setupIndex);
  const double middle = y + kRowPx / 2;
  Markup svg;
  svg.add(svgText(0, middle + 4)
              .set("class", "label")
              .set("fill", colour)
              .text(brokenLabel(column.label, kFontPx, kNamePx - 10, 1).front()))
      .lineEnd();
  Element bar = Element::svg("rect");
  bar.at("x", scale.x(0)).at("y", middle - kBarPx / 2).at("width", scale.x(column.value) - scale.x(0));
  svg.add(bar.at("height", kBarPx).set("fill", colour).set("fill-opacity", "0.75")).lineEnd();
  if (column.limit) {
    Element limit = Element::svg("line");
    limit.at("x1", scale.x(*column.limit)).at("x2", scale.x(*column.limit));
    limit.at("y1", middle - kBarPx / 2 - 2).at("y2", middle + kBarPx / 2 + 2);
    svg.add(limit.set("stroke", column.isAtLimit ? kEmberColour : "#8A8178").set("stroke-width", "2")).lineEnd();
  }
  if (std::isfinite(column.low) && std::isfinite(column.high)) {
    Element interval = Element::svg("line");
    interval.at("x1", scale.x(column.low)).at("x2", scale.x(column.high)).at("y1", middle).at("y2", middle);
    svg.add(interval.set("stroke", "#24211E").set("stroke-width", "2")).lineEnd();
  }
  const std::string figure = column.under.empty() ? column.figure : column.figure + " " + column.under;
  Element words = svgText(kWidthPx - kFigurePx + 10, middle + 4);
  if (column.isAtLimit) words.set("fill", kEmberColour);
  return svg.add(words.text(brokenLabel(figure, kFontPx, kFigurePx - 10, 1).front())).lineEnd();
}

}  // namespace

Markup svgBars(const ChartWords& words, const std::vector<ChartColumn>& columns) {
  Across scale;
  for (const ChartColumn& column : columns) {
    scale.top = std::max({scale.top, column.value, column.limit.value_or(0)});
    if (std::isfinite(column.high)) scale.top = std::max(scale.top, column.high);
  }
  const double height = kTopPx + kRowPx * static_cast<double>(columns.size()) + kFootPx;
  Element svg = svgPicture(kWidthPx, height, words.spoken);
  svg.add(svgTitle(0, words.title)).lineEnd();
  constexpr int kTicks = 5;
  const std::vector<double> ticks = niceTicks(0, scale.top, kTicks);
  for (const double tick : ticks) {
    Element line = Element::svg("line");
    line.at("x1", scale.x(tick)).at("x2", scale.x(tick)).at("y1", kTopPx).at("y2", height - kFootPx);
    svg.add(line.set("class", "grid"));
    svg.add(
        svgText(scale.x(tick), height - 6).set("text-anchor", "middle").text(numberText(tick, digitsOfTicks(ticks))));
  }
  svg.add(svgText(kWidthPx - kFigurePx + 10, height - 6).text(words.unit)).lineEnd();
  for (size_t i = 0; i < columns.size(); ++i)
    svg.add(rowOf(columns[i], kTopPx + kRowPx * static_cast<double>(i), scale));
  return svg.whole().lineEnd();
}

}  // namespace ash
