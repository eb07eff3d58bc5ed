// SPDX-License-Identifier: GPL-3.0-or-later
// How every lane looks, live or laid over each other: ground, frame, grid, axis texts.
#pragma once

#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "app/look/theme.h"

namespace ash::look {

/// Ticks whose labels do not lie on each other, however low the lane is.
class RoomyTicker : public QCPAxisTicker {
 public:
  explicit RoomyTicker(const QCPAxisRect* rect) : m_rect(rect) {}

 protected:
  QVector<double> createTickVector(double step, const QCPRange& range) override {
    const double leastApart = px(16) * range.size() / std::max(1, m_rect->height());
    QVector<double> kept;
    for (const double tick : QCPAxisTicker::createTickVector(step, range)) {
      if (range.contains(tick) && (kept.isEmpty() || tick - kept.back() >= leastApart)) kept << tick;
    }
    return kept;
  }

 private:
  const QCPAxisRect* m_rect;
};

/// Times whose labels do not lie on each other, however narrow the lane is: every second of them, every third …
class RoomyTimeTicker : public QCPAxisTickerTime {
 public:
  explicit RoomyTimeTicker(const QCPAxisRect* rect) : m_rect(rect) {}

 protected:
  QVector<double> createTickVector(double step, const QCPRange& range) override {
    const QString longest = QString(timeFormat().size() + 1, QLatin1Char('0'));  // "−" or an hour more
    const double leastApart =
        QFontMetrics(font(12)).horizontalAdvance(longest) * range.size() / std::max(1, m_rect->width());
    const auto each = std::max(1LL, std::llround(std::ceil(leastApart / step)));
    QVector<double> kept;
    for (const double tick : QCPAxisTickerTime::createTickVector(step, range)) {
      if (std::llround((tick - tickOrigin()) / step) % each == 0) kept << tick;
    }
    return kept;
  }

 private:
  const QCPAxisRect* m_rect;
};

/// Dresses an axis rectangle as a lane; times are shown in `timeFormat`, with labels on the lowest lane only.
inline void dressLane(QCPAxisRect* rect, const QMargins& margins, int tickCount, const QString& timeFormat,
                      bool isLowest) {
  const Theme& t = theme();
  rect->setLayer(QStringLiteral("background"));
  rect->setAutoMargins(QCP::msNone);
  rect->setMargins(margins);
  rect->setupFullAxesBox(true);
  rect->setBackground(QBrush(t.panel));
  for (QCPAxis* axis : rect->axes()) {
    axis->setBasePen(QPen(t.line));
    axis->setTickPen(Qt::NoPen);
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLabelColor(t.softInk);
    axis->setTickLabelFont(font(12));
    axis->grid()->setPen(QPen(t.plotGrid));
    axis->grid()->setZeroLinePen(Qt::NoPen);
    axis->setLayer(QStringLiteral("axes"));
  }
  rect->axis(QCPAxis::atLeft)->setTickLabelPadding(px(5));
  rect->axis(QCPAxis::atLeft)->setTicker(QSharedPointer<RoomyTicker>::create(rect));
  rect->axis(QCPAxis::atLeft)->ticker()->setTickCount(tickCount);
  const auto ticker = QSharedPointer<RoomyTimeTicker>::create(rect);
  ticker->setTimeFormat(timeFormat);
  rect->axis(QCPAxis::atBottom)->setTicker(ticker);
  rect->axis(QCPAxis::atBottom)->setTickLabels(isLowest);
}

}  // namespace ash::look
