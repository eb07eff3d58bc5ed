// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures and files of moments: a flag with a corner on the trace of their run.
#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "app/look/theme.h"
#include "app/look/words.h"
#include "app/traces/trace_lanes.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kPolePx = 12, kFlagPx = 14, kCornerPx = 5;

// A small square whose upper right corner is folded.
QPixmap flagPixmap(const QColor& colour, qreal ratio) {
  const int side = px(kFlagPx), corner = px(kCornerPx);
  QPixmap pixmap(QSize(side + 1, side + 1) * ratio);
  pixmap.setDevicePixelRatio(ratio);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(colour, 1.5));
  painter.setBrush(theme().panel);
  painter.drawPolygon(QPolygonF() << QPointF(1, 1) << QPointF(side - corner, 1) << QPointF(side - 1, corner + 1)
                                  << QPointF(side - 1, side - 1) << QPointF(1, side - 1));
  painter.drawPolyline(QPolygonF() << QPointF(side - corner, 1) << QPointF(side - corner, corner + 1)
                                   << QPointF(side - 1, corner + 1));
  return pixmap;
}

}  // namespace

void TraceLanes::drawFlags() {
  if (m_lanes.empty()) return;
  const Lane& lane = m_lanes.front();
  for (const TraceGroup& group : m_groups) {
    const auto line = std::find_if(lane.lines.begin(), lane.lines.end(),
                                   [&](const Line& other) { return other.label == group.shortLabel; });
    if (line == lane.lines.end() || line->values().empty()) continue;
    for (const AnalyzedRun* run : group.runs) {
      for (const Attachment& file : m_files) {
        if (file.run != run->run.name || !std::isfinite(file.atS)) continue;
        const double t = file.atS - zeroOf(*run, m_choice.align, m_choice.epochS);
        auto* pole = new QCPItemLine(m_plot);
        pole->start->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
        pole->start->setAxisRect(lane.rect);
        pole->start->setCoords(
            t, interpolate(line->values(), std::clamp(t, line->values().t.front(), line->values().t.back())));
        pole->end->setParentAnchor(pole->start);
        pole->end->setType(QCPItemPosition::ptAbsolute);
        pole->setPen(QPen(line->colour, 1.5));
        pole->setClipAxisRect(lane.rect);
        auto* sign = new QCPItemPixmap(m_plot);
        sign->setPixmap(flagPixmap(line->colour, devicePixelRatioF()));
        sign->topLeft->setParentAnchor(pole->end);
        sign->topLeft->setType(QCPItemPosition::ptAbsolute);
        sign->setClipAxisRect(lane.rect);
        const QString words = file.text.empty() ? text(file.name) : text(file.text);
        m_flags.push_back(
            {file.id, t, pole, sign, tr("%1, at %2. Press to open it (P).").arg(words, text(clockText(file.atS)))});
      }
    }
  }
  placeFlags();
}

// Above the trace, below it where there is no room above.
void TraceLanes::placeFlags() {
  if (m_flags.empty() || m_lanes.empty()) return;
  const double top = m_lanes.front().rect->top() + px(kPolePx + kFlagPx);
  for (const Flag& flag : m_flags) {
    const bool isAbove = flag.pole->start->pixelPosition().y() > top;
    flag.pole->end->setCoords(0, isAbove ? -px(kPolePx) : px(kPolePx));
    flag.sign->topLeft->setCoords(0, isAbove ? -px(kFlagPx) : 0);
  }
}

QPointF TraceLanes::flagPlace(int index) const {
  const QPointF corner = m_flags.at(static_cast<size_t>(index)).sign->topLeft->pixelPosition();
  return corner + QPointF(px(kFlagPx), px(kFlagPx)) / 2;
}

const TraceLanes::Flag* TraceLanes::flagAt(const QPointF& place) const {
  const auto found = std::find_if(m_flags.begin(), m_flags.end(), [&](const Flag& flag) {
    const QRectF area(flag.sign->topLeft->pixelPosition(), QSizeF(px(kFlagPx), px(kFlagPx)));
    return area.adjusted(-3, -3, 3, 3).contains(place);
  });
  return found == m_flags.end() ? nullptr : &*found;
}

void TraceLanes::openNearestFlag() {
  const double at = m_cursor.value_or(m_firstS);
  const auto nearest = std::min_element(m_flags.begin(), m_flags.end(), [&](const Flag& a, const Flag& b) {
    return std::abs(a.t - at) < std::abs(b.t - at);
  });
  if (nearest != m_flags.end()) emit flagPressed(nearest->id);
}

Attachment TraceLanes::momentAt(std::optional<QPoint> onScreen) const {
  Attachment owner;
  if (m_lanes.empty() || m_groups.empty()) return owner;
  const Lane& lane = m_lanes.front();
  const QPointF place = onScreen ? QPointF(mapFromGlobal(*onScreen)) : QPointF();
  const double t = onScreen ? timeAt(place.x()) : m_cursor.value_or(m_firstS);
  const TraceGroup* nearest = nullptr;
  double least = INFINITY;
  for (const TraceGroup& group : m_groups) {
    for (const Line& line : lane.lines) {
      if (line.label != group.shortLabel || line.values().empty() || t < line.values().t.front() ||
          t > line.values().t.back())
        continue;
      const double y = lane.rect->axis(QCPAxis::atLeft)->coordToPixel(interpolate(line.values(), t));
      const double away = onScreen ? std::abs(y - place.y()) : 0;
      if (away < least) nearest = &group;
      least = std::min(least, away);
    }
  }
  if (nearest == nullptr) return owner;
  const AnalyzedRun& run = *nearest->runs.front();
  owner.run = run.run.name;
  owner.atS = std::max(0.0, t + zeroOf(run, m_choice.align, m_choice.epochS));
  return owner;
}

}  // namespace ash
