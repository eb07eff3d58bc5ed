// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/window_strip.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::theme;
namespace {
constexpr double kWindowPitch = 7, kLeastS = 10;
}

WindowStrip::WindowStrip(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("window-strip"));
  setAccessibleName(tr("Windows that the figures come from"));
  setToolTip(
      tr("Drag an end to take figures from a window of your own. By keyboard: arrows move its start, with Shift its "
         "end."));
  setMouseTracking(true);
}

void WindowStrip::setMapping(std::function<double(double)> pixelOf, std::function<double(double)> timeAt) {
  m_pixelOf = std::move(pixelOf);
  m_timeAt = std::move(timeAt);
}

void WindowStrip::setBars(std::vector<Bar> bars) {
  m_bars = std::move(bars);
  if (!m_bars.empty())
    setAccessibleDescription(
        tr("first from %1 to %2")
            .arg(look::text(clockText(m_bars[0].span.startS)), look::text(clockText(m_bars[0].span.endS))));
  updateGeometry();
  update();
}

QSize WindowStrip::sizeHint() const {
  return {px(300), px(12 + kWindowPitch * std::clamp<double>(static_cast<double>(m_bars.size()), 1, 6))};
}

void WindowStrip::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const auto& t = theme();
  painter.fillRect(rect(), t.ground);
  painter.setFont(look::font(12));
  painter.setPen(hasFocus() ? t.ink : t.softInk);
  painter.drawText(QRect(px(16), 0, px(84), height()), Qt::AlignLeft | Qt::AlignVCenter, tr("windows"));
  if (!m_pixelOf) return;
  double y = px(7);
  const auto [from, to] = m_edges ? m_edges() : std::pair<double, double>(0, width());
  painter.save();
  painter.setClipRect(QRectF(from, 0, to - from, height()));
  for (const Bar& bar : m_bars) {
    const double left = m_pixelOf(bar.span.startS), right = m_pixelOf(bar.span.endS);
    const QColor colour = t.series(bar.setupIndex);
    painter.fillRect(QRectF(left, y, right - left, px(3)), colour);
    painter.fillRect(QRectF(left, y - px(3), 2, px(9)), colour);
    painter.fillRect(QRectF(right - 2, y - px(3), 2, px(9)), colour);
    y += px(kWindowPitch);
  }
  painter.restore();
  if (hasFocus()) {
    painter.setPen(QPen(t.ink, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void WindowStrip::mousePressEvent(QMouseEvent* event) {
  setFocus();
  m_end = 0;
  double nearest = px(10);
  for (const Bar& bar : m_bars) {
    for (const int end : {-1, 1}) {
      const double distance = std::abs(m_pixelOf(end < 0 ? bar.span.startS : bar.span.endS) - event->position().x());
      if (distance > nearest) continue;
      nearest = distance;
      m_end = end;
      m_dragged = bar.span;
    }
  }
}

void WindowStrip::mouseMoveEvent(QMouseEvent* event) {
  if (m_end == 0 || !m_timeAt) {
    const bool isNearEnd =
        m_pixelOf && std::any_of(m_bars.begin(), m_bars.end(), [&](const Bar& bar) {
          const double x = event->position().x();
          return std::abs(m_pixelOf(bar.span.startS) - x) < px(8) || std::abs(m_pixelOf(bar.span.endS) - x) < px(8);
        });
    QWidget::setCursor(isNearEnd ? Qt::SizeHorCursor : Qt::ArrowCursor);
    return;
  }
  const double t = m_timeAt(event->position().x());
  if (m_end < 0)
    m_dragged.startS = std::min(t, m_dragged.endS - kLeastS);
  else
    m_dragged.endS = std::max(t, m_dragged.startS + kLeastS);
  emit windowChanged(m_dragged.startS, m_dragged.endS);
}

void WindowStrip::mouseReleaseEvent(QMouseEvent*) { m_end = 0; }

void WindowStrip::keyPressEvent(QKeyEvent* event) {
  const bool isArrow = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right;
  if (!isArrow || m_bars.empty()) return QWidget::keyPressEvent(event);
  TimeSpan span = m_bars.front().span;
  const double step = event->key() == Qt::Key_Left ? -kLeastS : kLeastS;
  if (event->modifiers() & Qt::ShiftModifier)
    span.endS = std::max(span.endS + step, span.startS + kLeastS);
  else
    span.startS = std::min(span.startS + step, span.endS - kLeastS);
  emit windowChanged(span.startS, span.endS);
}

void WindowStrip::focusInEvent(QFocusEvent*) { update(); }
void WindowStrip::focusOutEvent(QFocusEvent*) { update(); }

}  // namespace ash

#include "moc_window_strip.cpp"
