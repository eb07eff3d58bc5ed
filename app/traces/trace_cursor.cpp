// SPDX-License-Identifier: GPL-3.0-or-later
// The cursor over all lanes: values of all runs at a moment, and the keys that move it.
#include <qcustomplot.h>

#include <QKeyEvent>
#include <algorithm>
#include <set>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/traces/trace_lanes.h"
#include "model/label_places.h"
#include "model/number_text.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {
constexpr int kRight = 200;  // as in trace_lanes.cpp
}

void TraceLanes::setCursor(std::optional<double> t) {
  m_cursor = t ? std::optional(std::clamp(*t, m_firstS, m_lastS)) : t;
  drawCursor();
}

// A dashed line across a lane, at a moment.
QCPItemLine* TraceLanes::drawUpright(Lane& lane, double t, const QColor& colour) {
  auto* line = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {line->start, line->end}) {
    end->setTypeX(QCPItemPosition::ptPlotCoords);
    end->setTypeY(QCPItemPosition::ptAxisRectRatio);
    end->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
    end->setAxisRect(lane.rect);
  }
  line->start->setCoords(t, 0);
  line->end->setCoords(t, 1);
  line->setClipAxisRect(lane.rect);
  line->setPen(QPen(colour, 1, Qt::DashLine));
  return line;
}

// Where not all have room: one of each setup before another of one that is named already, in the order of the legend.
void TraceLanes::keepWhatHasRoom(std::vector<EndValue>& values, size_t room) {
  std::set<int> named;
  std::vector<EndValue> first, others;
  for (const EndValue& value : values) (named.insert(value.line->setupIndex).second ? first : others).push_back(value);
  first.insert(first.end(), others.begin(), others.end());
  first.resize(std::min(first.size(), room));
  values = std::move(first);
}

// Values of all runs at the cursor (else at the end of each line), named, at the right of every lane.
void TraceLanes::drawCursor() {
  for (QCPAbstractItem* item : m_cursorItems) m_plot->removeItem(item);
  m_cursorItems.clear();
  for (size_t i = 0; i < m_lanes.size(); ++i) {
    Lane& lane = m_lanes[i];
    std::vector<EndValue> values;
    for (const Line& line : lane.lines) {
      if (line.values().empty()) continue;
      if (m_cursor && (*m_cursor < line.values().t.front() || *m_cursor > line.values().t.back())) continue;
      const double value = m_cursor ? interpolate(line.values(), *m_cursor) : line.values().v.back();
      values.push_back({lane.rect->axis(QCPAxis::atLeft)->coordToPixel(value), value, &line});
    }
    const double apart = px(15);
    const size_t room = std::max<size_t>(1, static_cast<size_t>(lane.rect->height() / apart));
    const size_t all = values.size();
    if (all > room) keepWhatHasRoom(values, room - 1);
    std::sort(values.begin(), values.end(), [](const EndValue& a, const EndValue& b) { return a.yPx < b.yPx; });
    std::vector<double> places;
    for (const EndValue& value : values) places.push_back(value.yPx);
    const double more = values.size() < all ? apart : 0;
    spreadApart(places, apart, lane.rect->top() + apart / 2, lane.rect->bottom() - more);
    if (more > 0)
      addText(lane.rect, lane.rect->right() + px(10), lane.rect->bottom(), tr("and %1 more").arg(all - values.size()),
              Qt::AlignLeft | Qt::AlignVCenter, theme().softInk, 12, false);
    for (size_t v = 0; v < values.size(); ++v) {
      const EndValue& value = values[v];
      const QString number = text(numberText(value.value, lane.digits));
      const int left =
          px(kRight - 8 - 10 - 8) - QFontMetrics(look::font(12, QFont::DemiBold)).horizontalAdvance(number);
      const QString name = QFontMetrics(look::font(12)).elidedText(value.line->label, Qt::ElideRight, left);
      addText(lane.rect, lane.rect->right() + px(10), places[v], name, Qt::AlignLeft | Qt::AlignVCenter,
              value.line->colour, 12, false);
      addText(lane.rect, lane.rect->right() + px(kRight - 8), places[v], number, Qt::AlignRight | Qt::AlignVCenter,
              theme().ink, 12, true);
    }
    if (!m_cursor) continue;
    m_cursorItems.push_back(drawUpright(lane, *m_cursor, theme().ink));
  }
  if (!m_lanes.empty() && m_cursor) {
    QCPAxisRect* lowest = m_lanes.back().rect;
    addText(lowest, pixelOf(*m_cursor), lowest->bottom() + px(4), text(clockText(*m_cursor)),
            Qt::AlignHCenter | Qt::AlignTop, theme().ink, 12, true);
    auto* tag = static_cast<QCPItemText*>(m_cursorItems.back());
    tag->setBrush(theme().ink);
    tag->setColor(theme().panel);
    tag->setPadding(QMargins(px(5), 1, px(5), 1));
  }
  m_plot->replot(QCustomPlot::rpQueuedReplot);
}

void TraceLanes::keyPressEvent(QKeyEvent* event) {
  if (m_lanes.empty()) return QWidget::keyPressEvent(event);
  QCPAxis* axis = m_lanes.front().rect->axis(QCPAxis::atBottom);
  const double step = axis->range().size() / (event->modifiers() & Qt::ShiftModifier ? 20 : 200);
  const double now = m_cursor.value_or(axis->range().center());
  switch (event->key()) {
    case Qt::Key_Left:
      return setCursor(now - step);
    case Qt::Key_Right:
      return setCursor(now + step);
    case Qt::Key_Plus:
      axis->scaleRange(0.8, now);
      return m_plot->replot();
    case Qt::Key_Minus:
      axis->scaleRange(1.25, now);
      return m_plot->replot();
    case Qt::Key_0:
      return resetRange();
    case Qt::Key_P:
      return openNearestFlag();
    case Qt::Key_H:
      return holdScale(!m_holdsScale);
    case Qt::Key_Escape:
      return setCursor(std::nullopt);
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace ash
