// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/chart/svg_chart.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/series/thinning.h"
#include "model/label_places.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/chart/label_text.h"

namespace ash {
namespace {

constexpr double kWidth = 720, kHeight = 340, kLeft = 52, kRight = 150, kTop = 34, kBottom = 40;
constexpr double kLabelPx = 12;
constexpr double kLabelsApart = 15;

struct Frame {
  double x0, x1, y0, y1;  // data
  double x(double v) const { return kLeft + (v - x0) / (x1 - x0) * (kWidth - kLeft - kRight); }
  double y(double v) const { return kHeight - kBottom - (v - y0) / (y1 - y0) * (kHeight - kTop - kBottom); }
};

Frame frameOf(const ChartSpec& chart) {
  Frame frame{INFINITY, -INFINITY, INFINITY, -INFINITY};
  for (const ChartLine& line : chart.lines) {
    for (size_t i = 0; i < line.series.size(); ++i) {
      frame.x0 = std::min(frame.x0, line.series.t[i]);
      frame.x1 = std::max(frame.x1, line.series.t[i]);
      frame.y0 = std::min(frame.y0, line.series.v[i]);
      frame.y1 = std::max(frame.y1, line.series.v[i]);
    }
  }
  if (!(frame.x1 > frame.x0)) frame.x1 = frame.x0 + 1;
  const double margin = std::max(0.5, 0.06 * (frame.y1 - frame.y0));
  frame.y0 -= margin;
  frame.y1 += margin;
  return frame;
}

std::string pathOf(const Series& series, const Frame& frame) {
  std::string path;
  const Series shown = lowestAndHighest(series, static_cast<size_t>(kWidth - kLeft - kRight));
  for (size_t i = 0; i < shown.size(); ++i) {
    path += fmt::format("{}{:.1f} {:.1f}", path.empty() ? "M" : "L", frame.x(shown.t[i]), frame.y(shown.v[i]));
  }
  return path;
}

Element lineAcross(const std::string& ofClass, double y) {
  Element line = Element::svg("line");
  return std::move(line.at("x1", kLeft).at("x2", kWidth - kRight).at("y1", y).at("y2", y).set("class", ofClass));
}

Markup axes(const ChartSpec& chart, const Frame& frame) {
  Markup svg;
  const std::vector<double> ticks = niceTicks(frame.y0, frame.y1, 5);
  for (const double tick : ticks) {
    svg.add(lineAcross("grid", frame.y(tick)));
    Element number = svgText(kLeft - 6, frame.y(tick) + 4);
    svg.add(number.set("text-anchor", "end").text(numberText(tick, digitsOfTicks(ticks)))).lineEnd();
  }
  for (const double tick : niceTicks(frame.x0 / 60, frame.x1 / 60, 6)) {
    Element minutes = svgText(frame.x(tick * 60), kHeight - kBottom + 18);
    svg.add(minutes.set("text-anchor", "middle").text(clockText(tick * 60))).lineEnd();
  }
  svg.add(lineAcross("axis", kHeight - kBottom)).lineEnd();
  svg.add(svgTitle(kLeft, chart.title)).lineEnd();
  svg.add(svgText(kLeft - 6, kTop - 4).set("text-anchor", "end").text(chart.unit)).lineEnd();
  return svg.add(svgText(kLeft, kHeight - 6).text(chart.xTitle)).lineEnd();
}

// Labels at the ends of their lines, pushed apart where they would lie on each other.
Markup labels(const ChartSpec& chart, const Frame& frame) {
  struct Label {
    double y;
    const ChartLine* line;
  };
  std::vector<Label> all;
  for (const ChartLine& line : chart.lines) {
    if (!line.label.empty() && !line.series.empty()) all.push_back({frame.y(line.series.v.back()), &line});
  }
  std::sort(all.begin(), all.end(), [](const Label& a, const Label& b) { return a.y < b.y; });
  std::vector<double> places;
  for (const Label& label : all) places.push_back(label.y);
  spreadApart(places, kLabelsApart);
  Markup svg;
  for (size_t i = 0; i < all.size(); ++i) {
    Element words = svgText(kWidth - kRight + 8, places[i] + 4);
    words.set("fill", paperColour(all[i].line->setupIndex)).set("class", "label");
    words.text(brokenLabel(all[i].line->label, kLabelPx, kRight - 12, 1).front());
    svg.add(words).lineEnd();
  }
  return svg;
}

}  // namespace

std::string paperColour(int setupIndex) {
  constexpr std::array kColours = {"#2F5D8A", "#7B3F73", "#1C7C7D", "#5B6770",
                                   "#A8801E", "#8A2F4F", "#4C7A45", "#4B4A9C"};
  return kColours[static_cast<size_t>(setupIndex) % kColours.size()];
}

std::vector<double> niceTicks(double low, double high, int count) {
  const double raw = (high - low) / std::max(1, count);
  if (!(raw > 0) || !std::isfinite(raw)) return {};
  const double power = std::pow(10, std::floor(std::log10(raw)));
  double step = 10 * power;
  for (const double nice : {1.0, 2.0, 5.0}) {
    if (nice * power >= raw) {
      step = nice * power;
      break;
    }
  }
  std::vector<double> ticks;
  for (double tick = std::ceil(low / step) * step; tick <= high + step * 1e-9; tick += step) ticks.push_back(tick);
  return ticks;
}

int digitsOfTicks(const std::vector<double>& ticks) {
  if (ticks.size() < 2) return 1;
  constexpr int kMost = 6;
  const double step = ticks[1] - ticks[0];
  int digits = 0;
  while (digits < kMost && step < 0.999 * std::pow(10, -digits)) ++digits;
  return digits;
}

Element svgPicture(double width, double height, const std::string& spoken) {
  Element svg = Element::svg("svg");
  svg.set("viewBox", fmt::format("0 0 {:.0f} {:.0f}", width, height)).set("role", "img").set("aria-label", spoken);
  return std::move(svg.set("xmlns", "http://www.w3.org/2000/svg").lineEnd());
}

Element svgText(double x, double y) { return std::move(Element::svg("text").at("x", x).at("y", y)); }

Element svgTitle(double x, const std::string& title) {
  return std::move(Element::svg("text").at("x", x).set("y", "18").set("class", "title").text(title));
}

Markup svgLineChart(const ChartSpec& chart) {
  constexpr std::array kDashes = {"", "6 3", "2 3", "8 3 2 3", "4 2", "10 4", "1 2", "6 2 1 2"};
  const Frame frame = frameOf(chart);
  Element svg = svgPicture(kWidth, kHeight, chart.spoken.empty() ? chart.title : chart.spoken);
  for (const TimeSpan& window : chart.windows) {
    Element shade = Element::svg("rect");
    shade.at("x", frame.x(window.startS)).at("y", kTop);
    shade.at("width", std::max(0.0, frame.x(window.endS) - frame.x(window.startS)));
    svg.add(shade.at("height", kHeight - kTop - kBottom).set("class", "window")).lineEnd();
  }
  svg.add(axes(chart, frame));
  for (const ChartLine& line : chart.lines) {
    Element path = Element::svg("path");
    path.set("d", pathOf(line.series, frame)).set("fill", "none").set("stroke", paperColour(line.setupIndex));
    path.set("stroke-width", "1.6");
    path.set("stroke-dasharray", kDashes[static_cast<size_t>(line.setupIndex) % kDashes.size()]);
    svg.add(path).lineEnd();
  }
  return svg.add(labels(chart, frame)).whole().lineEnd();
}

}  // namespace ash
