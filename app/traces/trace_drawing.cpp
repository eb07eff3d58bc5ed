// SPDX-License-Identifier: GPL-3.0-or-later
// What is drawn into a lane: the bands and lines of the groups, the work that heat took, the limit.
#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "analysis/series/thinning.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/traces/trace_lanes.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

QVector<double> vectorOf(const std::vector<double>& values, double factor = 1) {
  QVector<double> result;
  result.reserve(static_cast<int>(values.size()));
  for (const double value : values) result << value * factor;
  return result;
}

}  // namespace

void TraceLanes::drawGroup(Lane& lane, const TraceGroup& group, const std::shared_ptr<const TracedGroup>& traced) {
  if (traced->mean.empty()) return;
  Line line;
  line.label = group.shortLabel;
  line.colour = theme().series(group.setupIndex);
  line.setupIndex = group.setupIndex;
  line.isHollow = group.isVoid || !group.endMark.isEmpty();
  line.traced = traced;
  line.endS = line.values().t.back();
  for (const AnalyzedRun* run : group.runs) {
    const double zero = zeroOf(*run, m_choice.align, m_choice.epochS);
    if (run->figures.load) line.endS = std::min(line.endS, run->figures.load->endS - zero - 2);
  }
  QCPAxis* x = lane.rect->axis(QCPAxis::atBottom);
  QCPAxis* y = lane.rect->axis(QCPAxis::atLeft);
  if (!traced->low.empty()) {
    line.lowGraph = m_plot->addGraph(x, y);
    line.highGraph = m_plot->addGraph(x, y);
    line.lowGraph->setPen(Qt::NoPen);
    line.highGraph->setPen(Qt::NoPen);
    line.highGraph->setBrush(theme().seriesTint(group.setupIndex));
    line.highGraph->setChannelFillGraph(line.lowGraph);
  }
  line.graph = m_plot->addGraph(x, y);
  line.graph->setPen(group.pen(1.5));
  line.graph->setAntialiased(group.dash == 0);
  if (!group.endMark.isEmpty() && lane.rect == m_plot->axisRect(0)) {
    auto* mark = new QCPItemText(m_plot);
    mark->position->setAxes(x, y);
    mark->position->setAxisRect(lane.rect);
    mark->position->setCoords(line.values().t.back(), line.values().v.back());
    mark->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    mark->setColor(theme().ink);
    mark->setFont(look::font(12));
    mark->setClipAxisRect(lane.rect);
    m_endMarks.push_back({mark, group.endMark});
  }
  lane.lines.push_back(std::move(line));
}

// Of marks that would lie on each other the first says how its run ended; the others keep their cross. At the right
// edge the words stand before it.
void TraceLanes::placeEndMarks() {
  std::vector<QRectF> taken;
  const auto place = [](const QCPItemText* item) {
    return QRectF(item->topLeft->pixelPosition(), item->bottomRight->pixelPosition());
  };
  for (const EndMark& mark : m_endMarks) {
    mark.item->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    mark.item->setText(QStringLiteral("╳ ") + mark.words);
    if (place(mark.item).right() > mark.item->clipAxisRect()->right()) {
      mark.item->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
      mark.item->setText(mark.words + QStringLiteral(" ╳"));
    }
    const QRectF wanted = place(mark.item);
    if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& one) { return one.intersects(wanted); }))
      mark.item->setText(QStringLiteral("╳"));
    else
      taken.push_back(wanted);
  }
}

int TraceLanes::lineCount() const {
  int count = 0;
  for (const Lane& lane : m_lanes) count += static_cast<int>(lane.lines.size());
  return count;
}

// Lines of one pixel with hard edges: a tenth of the work of smooth ones.
void TraceLanes::drawFast() {
  for (Lane& lane : m_lanes) {
    for (const Line& line : lane.lines) {
      QPen pen = line.graph->pen();
      pen.setWidthF(1);
      line.graph->setPen(pen);
      line.graph->setAntialiased(false);
    }
  }
}

// Of every line as many readings as can be seen, from the part that is shown.
void TraceLanes::fillShown() {
  for (Lane& lane : m_lanes) {
    if (lane.rect == nullptr) continue;
    const QCPRange range = lane.rect->axis(QCPAxis::atBottom)->range();
    // Of many lines a reading each pixel is all that can be told apart.
    const int width = lineCount() > kManyLines ? lane.rect->width() / 2 : lane.rect->width();
    const auto columns = static_cast<size_t>(std::max(100, width));
    const auto fill = [&](QCPGraph* graph, const Pyramid& values) {
      if (graph == nullptr) return;
      const Series shown = values.within(range.lower, range.upper, columns);
      graph->setData(vectorOf(shown.t), vectorOf(shown.v), true);
    };
    for (const Line& line : lane.lines) {
      fill(line.graph, line.traced->mean);
      fill(line.lowGraph, line.traced->low);
      fill(line.highGraph, line.traced->high);
    }
  }
}

// The gap from the clock it should hold down to the one it held, hatched: lost to heat.
void TraceLanes::drawLostWork(Lane& lane, const LaneSpec& spec, const TraceGroup& group) {
  const Role role(spec.channel);
  if (role.quantity() != Quantity::Clock || group.isVoid || !lane.note.isEmpty()) return;
  const AnalyzedRun& run = *group.runs.front();
  const Series clock =
      tracedSeries(run, spec.channel, m_choice.align, Scale::Celsius, std::max(5.0, m_choice.smoothS), m_choice.epochS);
  const double zero = zeroOf(run, m_choice.align, m_choice.epochS);
  for (const Throttling& throttling : run.figures.throttling) {
    if (throttling.device != role.device() || !(throttling.referenceMhz > 0)) continue;
    const double should = shouldHoldMhz(throttling);
    QVector<double> times, held, top;
    for (const ThrottleInterval& interval : throttling.intervals) {
      if (interval.cause != Cause::Thermal) continue;
      const Series part = lowestAndHighest(slice(clock, {interval.span.startS - zero, interval.span.endS - zero}), 300);
      for (size_t i = 0; i < part.size(); ++i) {
        times << part.t[i];
        held << std::min(part.v[i], should) * spec.factor;
        top << should * spec.factor;
      }
    }
    if (times.isEmpty()) continue;
    QCPAxis* x = lane.rect->axis(QCPAxis::atBottom);
    QCPAxis* y = lane.rect->axis(QCPAxis::atLeft);
    QCPGraph* below = m_plot->addGraph(x, y);
    QCPGraph* above = m_plot->addGraph(x, y);
    below->setPen(Qt::NoPen);
    below->setData(times, held, true);
    above->setPen(QPen(theme().ink, 1));
    above->setData(times, top, true);
    above->setBrush(QBrush(theme().ember, Qt::BDiagPattern));
    above->setChannelFillGraph(below);
    lane.note = tr("hatched: work lost to heat by %1").arg(group.label);
  }
}

void TraceLanes::drawLimit(Lane& lane, const LaneSpec& spec) {
  if (spec.isDifference || m_groups.empty()) return;
  const AnalyzedRun& run = *m_groups.front().runs.front();
  const auto limit = run.run.facts.limit(spec.channel, "throttle");
  if (!limit || Role(spec.channel).quantity() != Quantity::Temperature) return;
  double y = *limit;
  const ChannelFigures* figures = run.figures.channel(spec.channel);
  if (m_choice.scale == Scale::Headroom) y = 0;
  if (m_choice.scale == Scale::OverRoom) {
    if (figures == nullptr || !figures->overAmbientK) return;
    y = *limit - (figures->window.mean - *figures->overAmbientK);
  }
  bool wasReached = false;
  for (const Line& line : lane.lines) {
    const auto [low, high] = line.traced->mean.rangeWithin(-INFINITY, INFINITY);
    wasReached |= m_choice.scale == Scale::Headroom ? low < 1.5 : high > y - 1.5;
  }
  auto* item = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {item->start, item->end}) {
    end->setTypeX(QCPItemPosition::ptAxisRectRatio);
    end->setTypeY(QCPItemPosition::ptPlotCoords);
    end->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
    end->setAxisRect(lane.rect);
  }
  item->start->setCoords(0, y);
  item->end->setCoords(1, y);
  item->setClipAxisRect(lane.rect);
  item->setPen(QPen(wasReached ? theme().ember : theme().softInk, wasReached ? 2 : 1));
}

}  // namespace ash
