// SPDX-License-Identifier: GPL-3.0-or-later
// Lines and points over two axes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/series/thinning.h"
#include "report/drawing/label_text.h"
#include "report/drawing/plane_frame.h"
#include "report/drawing/plots.h"

namespace ash {
namespace {

// Stretches of a line without a gap, thinned to the picture's columns.
std::vector<Series> stretchesOf(const std::vector<double>& x, const std::vector<double>& y, size_t columns) {
  std::vector<Series> all(1);
  for (size_t i = 0; i < x.size() && i < y.size(); ++i) {
    if (!std::isfinite(x[i]) || !std::isfinite(y[i])) {
      if (!all.back().empty()) all.emplace_back();
      continue;
    }
    all.back().t.push_back(x[i]);
    all.back().v.push_back(y[i]);
  }
  for (Series& series : all) series = lowestAndHighest(series, columns);
  return all;
}

std::string pathOf(const PlotLine& line, const PlaneFrame& frame) {
  const bool isSteps = line.stroke == PlotLine::Stroke::Steps || line.stroke == PlotLine::Stroke::Limit;
  std::string path;
  for (const Series& stretch : stretchesOf(line.x, line.y, static_cast<size_t>(std::max(1.0, frame.area.width)))) {
    for (size_t i = 0; i < stretch.size(); ++i) {
      const double x = frame.x(stretch.t[i]), y = frame.y(stretch.v[i]);
      if (i > 0 && isSteps)
        path += fmt::format("H{:.1f}V{:.1f}", x, y);
      else
        path += fmt::format("{}{:.1f} {:.1f}", i == 0 ? "M" : "L", x, y);
    }
  }
  return path;
}

void drawBand(const PlotLine& line, const PlaneFrame& frame, ChartSheet& sheet) {
  if (line.low.size() != line.x.size() || line.high.size() != line.x.size()) return;
  std::string above, below;
  for (size_t i = 0; i < line.x.size(); ++i) {
    if (!std::isfinite(line.low[i]) || !std::isfinite(line.high[i])) continue;
    above += fmt::format("{}{:.1f} {:.1f}", above.empty() ? "M" : "L", frame.x(line.x[i]), frame.y(line.high[i]));
    below.insert(0, fmt::format("L{:.1f} {:.1f}", frame.x(line.x[i]), frame.y(line.low[i])));
  }
  if (above.empty()) return;
  Element band = Element::svg("path");
  sheet.add(band.set("d", above + below + "Z")
                .set("fill", sheet.palette().setup(line.setupIndex))
                .set("fill-opacity", "0.18"));
}

// A dozen pieces, each fuller than the one before, so that the way can be read without a colour.
void drawTrail(const PlotLine& line, const PlaneFrame& frame, ChartSheet& sheet) {
  constexpr size_t kPieces = 12;
  const std::string colour = sheet.palette().setup(line.setupIndex);
  const size_t count = std::min(line.x.size(), line.y.size());
  if (count == 0) return;
  for (size_t piece = 0; piece < kPieces; ++piece) {
    const size_t from = piece * (count - 1) / kPieces, to = (piece + 1) * (count - 1) / kPieces;
    std::string path;
    for (size_t i = from; i <= to; ++i)
      path += fmt::format("{}{:.1f} {:.1f}", path.empty() ? "M" : "L", frame.x(line.x[i]), frame.y(line.y[i]));
    const double share = static_cast<double>(piece + 1) / kPieces;
    sheet.path(path, colour, sheet.line() * (0.8 + 0.8 * share), "", 0.2 + 0.8 * share);
  }
  sheet.point(frame.x(line.x[0]), frame.y(line.y[0]), line.setupIndex, true);
  sheet.point(frame.x(line.x[count - 1]), frame.y(line.y[count - 1]), line.setupIndex);
}

void drawLine(const PlotLine& line, const PlaneFrame& frame, ChartSheet& sheet) {
  drawBand(line, frame, sheet);
  switch (line.stroke) {
    case PlotLine::Stroke::Trail:
      return drawTrail(line, frame, sheet);
    case PlotLine::Stroke::Limit:
      return sheet.path(pathOf(line, frame), sheet.palette().soft, sheet.line(),
                        fmt::format("{0:g} {0:g}", 1.5 * sheet.line()));
    case PlotLine::Stroke::Steps:
    case PlotLine::Stroke::Setup:
      break;
  }
  sheet.path(pathOf(line, frame), sheet.palette().setup(line.setupIndex), sheet.line(),
             dashesOf(line.setupIndex, sheet.line()));
}

void drawPoint(const PlotPoint& point, const PlaneFrame& frame, ChartSheet& sheet) {
  const double x = frame.x(point.x), y = frame.y(point.y);
  const std::string colour = sheet.palette().setup(point.setupIndex);
  if (std::isfinite(point.xLow) && std::isfinite(point.xHigh))
    sheet.line(frame.x(point.xLow), y, frame.x(point.xHigh), y, colour, sheet.line());
  if (std::isfinite(point.yLow) && std::isfinite(point.yHigh))
    sheet.line(x, frame.y(point.yLow), x, frame.y(point.yHigh), colour, sheet.line());
  sheet.point(x, y, point.setupIndex, point.isHollow);
}

double lastOf(const PlotLine& line) {
  for (size_t i = line.y.size(); i-- > 0;) {
    if (std::isfinite(line.y[i])) return line.y[i];
  }
  return kMissing;
}

// Names right of the plot, pushed apart where they would lie on each other.
void nameEnds(const PlanePlot& plot, const PlaneFrame& frame, const LabelBox& room, ChartSheet& sheet) {
  struct End {
    double y;
    const PlotLine* line;
  };
  std::vector<End> ends;
  for (const PlotLine& line : plot.lines) {
    if (line.label.empty() || line.stroke == PlotLine::Stroke::Trail || !std::isfinite(lastOf(line))) continue;
    ends.push_back({frame.y(lastOf(line)), &line});
  }
  std::sort(ends.begin(), ends.end(), [](const End& a, const End& b) { return a.y < b.y; });
  std::vector<double> places;
  for (const End& end : ends) places.push_back(end.y);
  const double em = sheet.font();
  spreadApart(places, sheet.rowPx(), frame.area.y, frame.area.y + frame.area.height);
  const double right = frame.area.x + frame.area.width + 0.6 * em;
  for (size_t i = 0; i < ends.size(); ++i) {
    const bool isLimit = ends[i].line->stroke == PlotLine::Stroke::Limit;
    const ChartType type{em, isLimit ? std::string(sheet.palette().soft) : std::string(sheet.palette().ink), !isLimit};
    sheet.write({right, places[i] + 0.35 * em, Anchor::Start,
                 brokenLabel(ends[i].line->label, em, room.x + room.width - right, 1).front()},
                type);
    if (!isLimit)
      sheet.rectangle({right - 0.45 * em, places[i] - 0.45 * em, 0.25 * em, 0.9 * em},
                      sheet.palette().setup(ends[i].line->setupIndex));
  }
}

struct Spot {
  NamedPoint point;
  std::string words;
};

// What is named at its place: points, and where a trail ends.
std::vector<Spot> spotsOf(const PlanePlot& plot, const PlaneFrame& frame, const ChartSheet& sheet) {
  constexpr double kMostEm = 15;
  const double em = sheet.font();
  std::vector<Spot> spots;
  const auto add = [&](double x, double y, const std::string& label) {
    const std::string words = label.empty() ? "" : brokenLabel(label, em, kMostEm * em, 1).front();
    spots.push_back({{frame.x(x), frame.y(y), widthAtMost(words, em), 1.02 * em}, words});
  };
  for (const PlotPoint& point : plot.points) add(point.x, point.y, point.label);
  for (const PlotLine& line : plot.lines) {
    if (line.stroke == PlotLine::Stroke::Trail && !line.x.empty()) add(line.x.back(), line.y.back(), line.label);
  }
  return spots;
}

// What names should not lie on: the plane's lines, and the intervals of its points.
std::vector<LabelBox> strokesOf(const PlanePlot& plot, const PlaneFrame& frame, const ChartSheet& sheet) {
  constexpr double kStepEm = 0.6;
  constexpr size_t kMost = 4000;
  const double step = kStepEm * sheet.font();
  std::vector<LabelBox> boxes;
  const auto along = [&](double x0, double y0, double x1, double y1) {
    const double length = std::hypot(x1 - x0, y1 - y0);
    if (!std::isfinite(length)) return;
    const int pieces = std::clamp(static_cast<int>(length / step), 1, 400);
    for (int i = 0; i <= pieces && boxes.size() < kMost; ++i)
      boxes.push_back({x0 + (x1 - x0) * i / pieces - 1, y0 + (y1 - y0) * i / pieces - 1, 2, 2});
  };
  for (const PlotLine& line : plot.lines) {
    for (size_t i = 1; i < std::min(line.x.size(), line.y.size()); ++i)
      along(frame.x(line.x[i - 1]), frame.y(line.y[i - 1]), frame.x(line.x[i]), frame.y(line.y[i]));
  }
  for (const PlotPoint& point : plot.points) {
    along(frame.x(point.xLow), frame.y(point.y), frame.x(point.xHigh), frame.y(point.y));
    along(frame.x(point.x), frame.y(point.yLow), frame.x(point.x), frame.y(point.yHigh));
  }
  return boxes;
}

bool allAreNamed(const std::vector<Spot>& spots, const std::vector<std::optional<LabelBox>>& places) {
  for (size_t i = 0; i < spots.size(); ++i) {
    if (!spots[i].words.empty() && !places[i]) return false;
  }
  return true;
}

// Off the lines where that can be, else beside the points alone.
std::vector<std::optional<LabelBox>> placesOf(const std::vector<Spot>& spots, const PlanePlot& plot,
                                              const PlaneFrame& frame, const ChartSheet& sheet) {
  std::vector<NamedPoint> points;
  for (const Spot& spot : spots) points.push_back(spot.point);
  const double em = sheet.font(), reach = 0.5 * em, gap = 0.8 * em;
  if (auto places = placeNames(points, frame.area, reach, gap, strokesOf(plot, frame, sheet));
      allAreNamed(spots, places))
    return places;
  return placeNames(points, frame.area, reach, gap);
}

Naming namingOf(const PlanePlot& plot, const LabelBox& room, const ChartSheet& sheet) {
  const PlaneFrame frame = planeFrameOf(plot, room, sheet, Naming::Beside);
  if (!haveEndsRoom(plot, sheet, frame.area.height)) return Naming::Legend;
  const std::vector<Spot> spots = spotsOf(plot, frame, sheet);
  return allAreNamed(spots, placesOf(spots, plot, frame, sheet)) ? Naming::Beside : Naming::Legend;
}

}  // namespace

double planeHeight(const PlanePlot& plot, const ChartSheet& sheet, double width) {
  const double plotPx = sheet.look().info().plotPx;
  if (namingOf(plot, {0, 0, width, plotPx}, sheet) == Naming::Beside) return plotPx;
  return plotPx + legendPx(legendOf(plot), sheet, width, plotPx);
}

void drawPlane(const PlanePlot& plot, const LabelBox& room, ChartSheet& sheet) {
  const Naming naming = namingOf(plot, room, sheet);
  const PlaneFrame frame = planeFrameOf(plot, room, sheet, naming);
  if (naming == Naming::Legend) {
    const std::vector<LegendEntry> entries = legendOf(plot);
    drawLegend(entries, {room.x, room.y, room.width, legendPx(entries, sheet, room.width, 0.35 * room.height)}, sheet);
  }
  drawAxes(plot, frame, room, sheet);
  for (const PlotLine& line : plot.lines) drawLine(line, frame, sheet);
  for (const PlotPoint& point : plot.points) drawPoint(point, frame, sheet);
  if (naming == Naming::Legend) return;
  nameEnds(plot, frame, room, sheet);
  const std::vector<Spot> spots = spotsOf(plot, frame, sheet);
  const auto places = placesOf(spots, plot, frame, sheet);
  for (size_t i = 0; i < spots.size(); ++i) {
    if (!spots[i].words.empty() && places[i])
      sheet.write({places[i]->x, places[i]->y + 0.78 * sheet.font(), Anchor::Start, spots[i].words}, sheet.plain());
  }
}

}  // namespace ash
