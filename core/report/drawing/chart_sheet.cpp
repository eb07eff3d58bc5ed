// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/chart_sheet.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "report/drawing/label_text.h"

namespace ash {
namespace {

constexpr double kAscentEm = 0.78, kDescentEm = 0.24;

std::string_view wordOf(Anchor anchor) {
  constexpr std::array<std::string_view, 3> kAnchorWords = {"start", "middle", "end"};
  return kAnchorWords.at(static_cast<size_t>(anchor));
}

Element svgText(const ChartText& text, const ChartType& type) {
  Element element = Element::svg("text");
  element.at("x", text.x).at("y", text.y).set("font-size", fmt::format("{:g}", type.px)).set("fill", type.colour);
  if (type.isBold) element.set("font-weight", "600");
  if (text.anchor != Anchor::Start) element.set("text-anchor", wordOf(text.anchor));
  return std::move(element.text(text.words));
}

// Corners of a shape of so many sides around a place.
std::string cornersOf(double x, double y, double radius, int sides, double turned) {
  std::string path;
  for (int i = 0; i < sides; ++i) {
    const double angle = turned + 2 * M_PI * i / sides;
    path +=
        fmt::format("{}{:.1f} {:.1f}", i == 0 ? "M" : "L", x + radius * std::cos(angle), y + radius * std::sin(angle));
  }
  return path + "Z";
}

// Eight shapes for eight setups.
std::string shapeOf(double x, double y, double radius, int setupIndex) {
  constexpr double kUp = -M_PI / 2;
  switch (std::max(0, setupIndex) % 8) {
    case 0:
      return cornersOf(x, y, radius, 16, 0);
    case 1:
      return cornersOf(x, y, radius * 1.2, 4, M_PI / 4);
    case 2:
      return cornersOf(x, y, radius * 1.3, 3, kUp);
    case 3:
      return cornersOf(x, y, radius * 1.3, 4, 0);
    case 4:
      return cornersOf(x, y, radius * 1.3, 3, -kUp);
    case 5:
      return cornersOf(x, y, radius * 1.2, 5, kUp);
    case 6:
      return cornersOf(x, y, radius * 1.3, 3, 0);
    default:
      return cornersOf(x, y, radius * 1.1, 6, 0);
  }
}

}  // namespace

LabelBox boxOf(const ChartText& text, double px) {
  const double width = widthAtMost(text.words, px);
  const double left = text.anchor == Anchor::End      ? text.x - width
                      : text.anchor == Anchor::Middle ? text.x - width / 2
                                                      : text.x;
  return {left, text.y - kAscentEm * px, width, (kAscentEm + kDescentEm) * px};
}

void ChartSheet::write(const ChartText& text, const ChartType& type) {
  if (text.words.empty()) return;
  m_taken.push_back(boxOf(text, type.px));
  add(svgText(text, type));
}

bool ChartSheet::writeIfFree(const ChartText& text, const ChartType& type, const LabelBox& room) {
  if (text.words.empty()) return true;
  const LabelBox box = boxOf(text, type.px);
  if (!room.holds(box)) return false;
  if (std::any_of(m_taken.begin(), m_taken.end(), [&](const LabelBox& other) { return box.covers(other); }))
    return false;
  write(text, type);
  return true;
}

void ChartSheet::line(double x1, double y1, double x2, double y2, std::string_view colour, double width) {
  Element element = Element::svg("line");
  element.at("x1", x1).at("x2", x2).at("y1", y1).at("y2", y2).set("stroke", colour);
  add(element.set("stroke-width", fmt::format("{:g}", width)));
}

void ChartSheet::rectangle(const LabelBox& box, std::string_view colour, double opacity) {
  Element element = Element::svg("rect");
  element.at("x", box.x).at("y", box.y).at("width", std::max(0.0, box.width)).at("height", std::max(0.0, box.height));
  element.set("fill", colour);
  if (opacity < 1) element.set("fill-opacity", fmt::format("{:g}", opacity));
  add(element);
}

void ChartSheet::path(const std::string& d, std::string_view colour, double width, const std::string& dashes,
                      double opacity) {
  if (d.empty()) return;
  Element element = Element::svg("path");
  element.set("d", d).set("fill", "none").set("stroke", colour).set("stroke-width", fmt::format("{:g}", width));
  element.set("stroke-linejoin", "round");
  if (!dashes.empty()) element.set("stroke-dasharray", dashes);
  if (opacity < 1) element.set("stroke-opacity", fmt::format("{:.2g}", opacity));
  add(element);
}

void ChartSheet::point(double x, double y, int setupIndex, bool isHollow) {
  constexpr double kRadiusEm = 0.36;
  const std::string colour = palette().setup(setupIndex);
  Element element = Element::svg("path");
  element.set("d", shapeOf(x, y, kRadiusEm * font(), setupIndex))
      .set("fill", isHollow ? std::string(palette().paper) : colour);
  add(element.set("stroke", colour).set("stroke-width", fmt::format("{:g}", line())));
}

}  // namespace ash
