// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/plane_frame.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "model/number_text.h"
#include "model/text.h"
#include "report/drawing/label_text.h"
#include "report/drawing/ticks.h"

namespace ash {
namespace {

constexpr double kSwatchEm = 2.2, kEntryGapEm = 1.4;
constexpr int kFewestRows = 3, kMostRows = 6;

struct Range {
  double low = INFINITY, high = -INFINITY;
  void take(double value) {
    if (!std::isfinite(value)) return;
    low = std::min(low, value);
    high = std::max(high, value);
  }
  bool isEmpty() const { return !(low <= high); }
};

void widen(Range& range, double share, bool hasZero) {
  if (range.isEmpty()) range = {0, 1};
  if (hasZero) range.low = std::min(0.0, range.low);
  const double wide = range.high - range.low;
  const double margin = wide > 0 ? share * wide : std::max(0.5, 0.05 * std::abs(range.high));
  if (!hasZero || range.low < 0) range.low -= margin;
  range.high += margin;
}

// Two at least, so that they tell a scale.
std::vector<double> numberTicks(double low, double high, int count) {
  constexpr int kMost = 12;
  std::vector<double> ticks = niceTicks(low, high, count);
  for (int more = count + 1; ticks.size() < 2 && more <= kMost; ++more) ticks = niceTicks(low, high, more);
  return ticks;
}

std::vector<double> ticksOf(const PlotAxis& axis, double low, double high, int count) {
  if (axis.scale == PlotAxis::Scale::Log) return logTicks(low, high);
  if (axis.scale == PlotAxis::Scale::Number) return numberTicks(low, high, count);
  constexpr double kMinuteS = 60;
  std::vector<double> ticks = minuteTicks(low / kMinuteS, high / kMinuteS, count);
  for (double& tick : ticks) tick *= kMinuteS;
  return ticks;
}

std::string tickText(const PlotAxis& axis, const std::vector<double>& ticks, double tick) {
  switch (axis.scale) {
    case PlotAxis::Scale::Minutes:
      return clockText(tick);
    case PlotAxis::Scale::Log:
      return tick >= 1000 ? fmt::format("{:g} k", tick / 1000) : fmt::format("{:g}", tick);
    case PlotAxis::Scale::Number:
      break;
  }
  return numberText(tick, digitsOfTicks(ticks));
}

int rowsOf(const PlaneFrame& frame, const ChartSheet& sheet) {
  return std::clamp(static_cast<int>(frame.area.height / (3.6 * sheet.font())), kFewestRows, kMostRows);
}

struct Entry {
  double x;
  size_t row;
  std::string words;
};

// The legend's entries in rows.
std::vector<Entry> flowOf(const std::vector<LegendEntry>& entries, const ChartSheet& sheet, double width) {
  const double em = sheet.font();
  std::vector<Entry> all;
  double x = 0;
  size_t row = 0;
  for (const LegendEntry& entry : entries) {
    const std::string words = brokenLabel(entry.label, em, width - (kSwatchEm + 0.6) * em, 1).front();
    const double wide = (kSwatchEm + 0.5) * em + widthAtMost(words, em);
    if (x > 0 && x + wide > width) {
      x = 0;
      ++row;
    }
    all.push_back({x, row, words});
    x += wide + kEntryGapEm * em;
  }
  return all;
}

}  // namespace

std::vector<LegendEntry> legendOf(const PlanePlot& plot) {
  std::vector<LegendEntry> entries;
  std::set<std::string> seen;
  for (const PlotLine& line : plot.lines) {
    if (!line.label.empty() && seen.insert(line.label).second)
      entries.push_back({line.label, line.setupIndex, line.stroke == PlotLine::Stroke::Trail,
                         line.stroke == PlotLine::Stroke::Limit});
  }
  for (const PlotPoint& point : plot.points) {
    if (!point.label.empty() && seen.insert(point.label).second)
      entries.push_back({point.label, point.setupIndex, true, false});
  }
  return entries;
}

double PlaneFrame::x(double value) const {
  const double share = isLog ? std::log(value / x0) / std::log(x1 / x0) : (value - x0) / (x1 - x0);
  return area.x + share * area.width;
}
double PlaneFrame::y(double value) const { return area.y + area.height - (value - y0) / (y1 - y0) * area.height; }

double legendPx(const std::vector<LegendEntry>& entries, const ChartSheet& sheet, double width, double mostPx) {
  const std::vector<Entry> flow = flowOf(entries, sheet, width);
  if (flow.empty()) return 0;
  return std::min(mostPx, sheet.rowPx() * static_cast<double>(flow.back().row + 1) + 0.4 * sheet.font());
}

void drawLegend(const std::vector<LegendEntry>& entries, const LabelBox& room, ChartSheet& sheet) {
  const double em = sheet.font();
  const std::vector<Entry> flow = flowOf(entries, sheet, room.width);
  const auto rows = static_cast<size_t>(std::max(1.0, room.height / sheet.rowPx()));
  const size_t all = flow.empty() ? 0 : flow.back().row + 1;
  // The last row says how many have no room.
  const size_t shown = all <= rows ? all : rows - 1;
  size_t left = 0;
  for (size_t i = 0; i < flow.size(); ++i) {
    if (flow[i].row >= shown) {
      ++left;
      continue;
    }
    const double y = room.y + sheet.rowPx() * static_cast<double>(flow[i].row + 1) - 0.35 * em, x = room.x + flow[i].x;
    const double middle = y - 0.3 * em;
    if (entries[i].isPoint)
      sheet.point(x + kSwatchEm * em / 2, middle, entries[i].setupIndex);
    else
      sheet.path(fmt::format("M{:.1f} {:.1f}H{:.1f}", x, middle, x + kSwatchEm * em),
                 entries[i].isLimit ? std::string(sheet.palette().soft) : sheet.palette().setup(entries[i].setupIndex),
                 1.3 * sheet.line(),
                 entries[i].isLimit ? fmt::format("{0:g} {0:g}", 1.5 * sheet.line())
                                    : dashesOf(entries[i].setupIndex, sheet.line()));
    sheet.write({x + (kSwatchEm + 0.5) * em, y, Anchor::Start, flow[i].words}, sheet.plain());
  }
  if (left > 0)
    sheet.write({room.x, room.y + sheet.rowPx() * static_cast<double>(shown + 1) - 0.35 * em, Anchor::Start,
                 fmt::format("and {} more", left)},
                sheet.soft());
}

bool haveEndsRoom(const PlanePlot& plot, const ChartSheet& sheet, double heightPx) {
  size_t named = 0;
  for (const PlotLine& line : plot.lines) named += !line.label.empty();
  return sheet.look().size != ChartSize::Phone && static_cast<double>(named) * sheet.rowPx() <= heightPx;
}

PlaneFrame planeFrameOf(const PlanePlot& plot, const LabelBox& room, const ChartSheet& sheet, Naming naming) {
  Range xs, ys;
  for (const PlotLine& line : plot.lines) {
    for (const double value : line.x) xs.take(value);
    for (const auto* values : {&line.y, &line.low, &line.high})
      for (const double value : *values) ys.take(value);
  }
  for (const PlotPoint& point : plot.points) {
    for (const double value : {point.x, point.xLow, point.xHigh}) xs.take(value);
    for (const double value : {point.y, point.yLow, point.yHigh}) ys.take(value);
  }
  const bool isLog = plot.x.scale == PlotAxis::Scale::Log;
  if (plot.x.scale == PlotAxis::Scale::Number) widen(xs, 0.06, plot.x.hasZero);
  if (xs.isEmpty() || !(xs.high > xs.low))
    xs = isLog ? Range{1, 10} : Range{xs.isEmpty() ? 0 : xs.low, xs.isEmpty() ? 1 : xs.low + 1};
  widen(ys, 0.07, plot.y.hasZero);
  // Room for names above the highest point.
  if (!plot.points.empty()) ys.high += 0.08 * (ys.high - ys.low);

  const double em = sheet.font();
  double left = 2.5 * em, right = 1.2 * em;
  for (int count = kFewestRows; count <= kMostRows; ++count) {
    const std::vector<double> ticks = ticksOf(plot.y, ys.low, ys.high, count);
    for (const double tick : ticks) left = std::max(left, widthAtMost(tickText(plot.y, ticks, tick), em) + em);
  }
  if (naming == Naming::Beside) {
    for (const PlotLine& line : plot.lines) {
      if (!line.label.empty()) right = std::max(right, widthAtMost(line.label, em) + 1.4 * em);
    }
    right = std::min(right, 0.27 * room.width);
  }
  const double legend = naming == Naming::Legend ? legendPx(legendOf(plot), sheet, room.width, 0.35 * room.height) : 0;
  const double top = 1.7 * em, bottom = plot.x.title.empty() ? 1.7 * em : 3.1 * em;
  PlaneFrame frame{
      {room.x + left, room.y + legend + top, room.width - left - right, room.height - legend - top - bottom},
      naming,
      xs.low,
      xs.high,
      ys.low,
      ys.high,
      isLog};
  return frame;
}

void drawAxes(const PlanePlot& plot, const PlaneFrame& frame, const LabelBox& room, ChartSheet& sheet) {
  const double em = sheet.font();
  const LabelBox& area = frame.area;
  const double bottom = area.y + area.height;
  for (const TimeSpan& window : plot.windows) {
    const double from = std::clamp(frame.x(window.startS), area.x, area.x + area.width);
    const double to = std::clamp(frame.x(window.endS), area.x, area.x + area.width);
    sheet.rectangle({from, area.y, to - from, area.height}, sheet.palette().window);
  }
  const std::vector<double> rows = ticksOf(plot.y, frame.y0, frame.y1, rowsOf(frame, sheet));
  for (const double tick : rows) {
    const double y = frame.y(tick);
    sheet.line(area.x, y, area.x + area.width, y, sheet.palette().grid, 0.6 * sheet.line());
    sheet.writeIfFree({area.x - 0.5 * em, y + 0.35 * em, Anchor::End, tickText(plot.y, rows, tick)}, sheet.soft(),
                      room);
  }
  sheet.writeIfFree({area.x, area.y - 0.55 * em, Anchor::Start, brokenLabel(plot.y.title, em, area.width, 1).front()},
                    sheet.soft(), room);
  sheet.line(area.x, bottom, area.x + area.width, bottom, sheet.palette().axis, 0.8 * sheet.line());
  const std::vector<double> columns =
      ticksOf(plot.x, frame.x0, frame.x1, std::clamp(static_cast<int>(area.width / (6.5 * em)), 2, 9));
  for (const double tick : columns) {
    const double x = frame.x(tick);
    sheet.line(x, bottom, x, bottom + 0.3 * em, sheet.palette().axis, 0.8 * sheet.line());
    sheet.writeIfFree({x, bottom + 1.4 * em, Anchor::Middle, tickText(plot.x, columns, tick)}, sheet.soft(), room);
  }
  if (!plot.x.title.empty())
    sheet.writeIfFree({area.x, bottom + 2.7 * em, Anchor::Start, brokenLabel(plot.x.title, em, area.width, 1).front()},
                      sheet.soft(), room);
}

}  // namespace ash
