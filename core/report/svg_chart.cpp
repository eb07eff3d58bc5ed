// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/svg_chart.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/thinning.h"
#include "model/number_text.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kWidth = 720, kHeight = 340, kLeft = 52, kRight = 130, kTop = 34, kBottom = 40;

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

std::string axes(const ChartSpec& chart, const Frame& frame) {
  std::string svg;
  for (const double tick : niceTicks(frame.y0, frame.y1, 5)) {
    svg += fmt::format(
        "<line x1='{:.1f}' x2='{:.1f}' y1='{:.1f}' y2='{:.1f}' class='grid'/>"
        "<text x='{:.1f}' y='{:.1f}' text-anchor='end'>{}</text>\n",
        kLeft, kWidth - kRight, frame.y(tick), frame.y(tick), kLeft - 6, frame.y(tick) + 4, numberText(tick, 0));
  }
  for (const double tick : niceTicks(frame.x0 / 60, frame.x1 / 60, 6)) {
    svg += fmt::format("<text x='{:.1f}' y='{:.1f}' text-anchor='middle'>{}</text>\n", frame.x(tick * 60),
                       kHeight - kBottom + 18, clockText(tick * 60));
  }
  svg += fmt::format("<line x1='{0:.1f}' x2='{1:.1f}' y1='{2:.1f}' y2='{2:.1f}' class='axis'/>\n", kLeft,
                     kWidth - kRight, kHeight - kBottom);
  svg += fmt::format("<text x='{:.1f}' y='18' class='title'>{}</text>\n", kLeft, escaped(chart.title));
  svg += fmt::format("<text x='{:.1f}' y='{:.1f}' text-anchor='end'>{}</text>\n", kLeft - 6, kTop - 4,
                     escaped(chart.unit));
  svg += fmt::format("<text x='{:.1f}' y='{:.1f}'>{}</text>\n", kLeft, kHeight - 6, escaped(chart.xTitle));
  return svg;
}

// Labels at the ends of their lines, pushed apart where they would lie on each other.
std::string labels(const ChartSpec& chart, const Frame& frame) {
  struct Label {
    double y;
    const ChartLine* line;
  };
  std::vector<Label> all;
  for (const ChartLine& line : chart.lines) {
    if (!line.label.empty() && !line.series.empty()) all.push_back({frame.y(line.series.v.back()), &line});
  }
  std::sort(all.begin(), all.end(), [](const Label& a, const Label& b) { return a.y < b.y; });
  for (size_t i = 1; i < all.size(); ++i) all[i].y = std::max(all[i].y, all[i - 1].y + 15);
  std::string svg;
  for (const Label& label : all) {
    svg += fmt::format("<text x='{:.1f}' y='{:.1f}' fill='{}' class='label'>{}</text>\n", kWidth - kRight + 8,
                       label.y + 4, paperColour(label.line->setupIndex), escaped(label.line->label));
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

std::string escaped(const std::string& text) {
  std::string safe;
  for (const char c : text) {
    switch (c) {
      case '&':
        safe += "&amp;";
        break;
      case '<':
        safe += "&lt;";
        break;
      case '>':
        safe += "&gt;";
        break;
      case '"':
        safe += "&quot;";
        break;
      case '\'':
        safe += "&#39;";
        break;
      default:
        safe += c;
    }
  }
  return safe;
}

std::string svgLineChart(const ChartSpec& chart) {
  constexpr std::array kDashes = {"", "6 3", "2 3", "8 3 2 3", "4 2", "10 4", "1 2", "6 2 1 2"};
  const Frame frame = frameOf(chart);
  std::string svg =
      fmt::format("<svg viewBox='0 0 {} {}' role='img' aria-label='{}' xmlns='http://www.w3.org/2000/svg'>\n", kWidth,
                  kHeight, escaped(chart.title));
  for (const TimeSpan& window : chart.windows) {
    svg += fmt::format("<rect x='{:.1f}' y='{:.1f}' width='{:.1f}' height='{:.1f}' class='window'/>\n",
                       frame.x(window.startS), kTop, std::max(0.0, frame.x(window.endS) - frame.x(window.startS)),
                       kHeight - kTop - kBottom);
  }
  svg += axes(chart, frame);
  for (const ChartLine& line : chart.lines) {
    svg += fmt::format("<path d='{}' fill='none' stroke='{}' stroke-width='1.6' stroke-dasharray='{}'/>\n",
                       pathOf(line.series, frame), paperColour(line.setupIndex),
                       kDashes[static_cast<size_t>(line.setupIndex) % kDashes.size()]);
  }
  return svg + labels(chart, frame) + "</svg>\n";
}

}  // namespace ash
