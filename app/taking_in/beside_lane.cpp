// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/taking_in/beside_lane.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/theme.h"
#include "app/look/words.h"
#include "app/taking_in/lane_drawing.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;

namespace {

// A log may have begun before the run.
QString signedClock(double seconds) {
  return (seconds <= -0.5 ? QStringLiteral("\u2212") : QString()) + text(clockText(std::abs(seconds)));
}

}  // namespace

BesideLane::BesideLane(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("beside-lane"));
  setAccessibleName(tr("The log under the run, on one axis of time"));
  setToolTip(
      tr("Above the run, below the log. Drag it, or move it with the arrow keys: a second, with Shift a tenth."));
  setMinimumHeight(px(190));
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::SizeHorCursor);
}

void BesideLane::show(LaneShape run, LaneShape log) {
  m_run = std::move(run);
  m_log = std::move(log);
  update();
}

void BesideLane::setOffset(double offsetS, double drift) {
  m_offsetS = offsetS;
  m_drift = drift;
  if (!m_isDragged && !m_run.timeS.empty() && !m_log.timeS.empty()) {
    m_fromS = std::min(m_run.timeS.front(), offsetS + m_log.timeS.front());
    m_toS = std::max(m_run.timeS.back(), offsetS + m_log.timeS.back() * (1 + drift));
    if (!(m_toS > m_fromS)) m_toS = m_fromS + 1;
  }
  update();
}

double BesideLane::secondsOfPx() const { return (m_toS - m_fromS) / std::max(1, width() - px(16)); }

void BesideLane::paintShape(QPainter& painter, const LaneShape& shape, const QString& whose, const QRectF& lane,
                            double offsetS, double stretch, const QColor& colour) const {
  painter.fillRect(lane, theme().panel);
  painter.setPen(theme().line);
  painter.drawRect(lane);
  const auto [low, high] = extentOf(shape);
  painter.setPen(theme().softInk);
  painter.setFont(look::font(12));
  painter.drawText(lane.adjusted(px(6), px(3), 0, 0), Qt::AlignLeft | Qt::AlignTop,
                   tr("%1: %2").arg(whose, text(Role(shape.title).title())));
  if (!(high > low)) return;
  painter.setClipRect(lane);
  painter.setPen(QPen(colour, 1.3));
  drawLane(painter, shape, [&, low = low, high = high](double t, double v) {
    return QPointF(px(8) + (offsetS + t * stretch - m_fromS) / secondsOfPx(),
                   lane.bottom() - px(5) - (v - low) / (high - low) * (lane.height() - px(26)));
  });
  painter.setClipping(false);
}

void BesideLane::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const double foot = px(18), half = (height() - foot - px(6)) / 2;
  const QRectF above(0.5, 0.5, width() - 1, half), below(0.5, half + px(6), width() - 1, half);
  paintShape(painter, m_run, tr("the run"), above, 0, 1, theme().softInk);
  paintShape(painter, m_log, tr("the log"), below, m_offsetS, 1 + m_drift, theme().series(0));
  painter.setPen(theme().softInk);
  painter.setFont(look::font(11));
  const QRectF line(px(8), height() - foot, width() - px(16), foot);
  painter.drawText(line, Qt::AlignLeft | Qt::AlignVCenter, signedClock(m_fromS));
  painter.drawText(line, Qt::AlignRight | Qt::AlignVCenter, signedClock(m_toS));
  if (!hasFocus()) return;
  painter.setPen(QPen(theme().ink, 1, Qt::DotLine));
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

void BesideLane::mousePressEvent(QMouseEvent* event) {
  m_isDragged = event->button() == Qt::LeftButton;
  m_pressedX = event->position().x();
  m_pressedOffsetS = m_offsetS;
}

void BesideLane::mouseMoveEvent(QMouseEvent* event) {
  if (!m_isDragged) return;
  m_offsetS = m_pressedOffsetS + (event->position().x() - m_pressedX) * secondsOfPx();
  update();
}

void BesideLane::mouseReleaseEvent(QMouseEvent*) {
  if (!m_isDragged) return;
  m_isDragged = false;
  if (m_offsetS != m_pressedOffsetS) emit moved(m_offsetS);
}

void BesideLane::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 0.1 : 1;
  if (event->key() == Qt::Key_Left)
    emit moved(m_offsetS - step);
  else if (event->key() == Qt::Key_Right)
    emit moved(m_offsetS + step);
  else
    QWidget::keyPressEvent(event);
}

void BesideLane::focusInEvent(QFocusEvent*) { update(); }
void BesideLane::focusOutEvent(QFocusEvent*) { update(); }

}  // namespace ash

#include "moc_beside_lane.cpp"
