// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/budget_column.h"

#include <QPolygonF>
#include <algorithm>
#include <cmath>

namespace ash::look {
namespace {

constexpr double kAtLimitK = 1.5;
constexpr double kUnknownTopK = 80;  // how high a column without a known limit is drawn

/// Pixels of one column.
struct Geometry {
  double x, foot, width, pxPerK;
  bool isSmall;
  double y(double kelvin) const { return foot - kelvin * pxPerK; }
  double inset() const { return isSmall ? 2 : 4; }
  double overhang() const { return isSmall ? 2 : 4; }
};

void drawLine(QPainter& p, double x1, double y1, double x2, double y2, const QPen& pen) {
  p.setPen(pen);
  p.drawLine(QPointF(x1, y1), QPointF(x2, y2));
}

void paintFill(QPainter& p, const ColumnSpec& column, const Geometry& g, const Theme& t) {
  const double used = std::max(0.0, column.usedK);
  const QRectF fill(g.x + g.inset(), g.y(used), g.width - 2 * g.inset(), g.foot - g.y(used));
  if (column.state != ColumnState::WentDown) {
    p.fillRect(fill, column.state == ColumnState::Void ? t.shade2 : column.fill);
    return;
  }
  // Teeth: it broke off here.
  QPolygonF teeth;
  teeth << fill.bottomLeft();
  const int count = g.isSmall ? 3 : 4;
  const double depth = g.isSmall ? 6 : 9;
  for (int i = 0; i <= 2 * count; ++i) {
    teeth << QPointF(fill.left() + fill.width() * i / (2 * count), i % 2 == 0 ? fill.top() : fill.top() + depth);
  }
  teeth << fill.bottomRight();
  p.setPen(Qt::NoPen);
  p.setBrush(column.fill);
  p.drawPolygon(teeth);
  p.setBrush(Qt::NoBrush);
}

void paintFrame(QPainter& p, const ColumnSpec& column, const Geometry& g, const Theme& t) {
  const bool isHot = column.state == ColumnState::AtLimit || column.state == ColumnState::OverLimit;
  const double top = g.y(column.limitK.value_or(std::max(kUnknownTopK, column.usedK)));
  if (column.state == ColumnState::WentDown) {
    drawLine(p, g.x - g.overhang(), top, g.x + g.width + g.overhang(), top, QPen(t.softInk, 1));
    return;
  }
  QPen frame(isHot ? t.ember : t.strongLine, isHot ? 2 : 1);
  if (!column.limitK || column.state == ColumnState::Planned) frame = QPen(t.softInk, 1, Qt::DotLine);
  drawLine(p, g.x, g.foot, g.x, top, frame);
  drawLine(p, g.x + g.width, g.foot, g.x + g.width, top, frame);
  if (column.limitK) {
    const QPen limit(isHot ? t.ember : t.ink, g.isSmall ? 1 : 2);
    drawLine(p, g.x - g.overhang(), top, g.x + g.width + g.overhang(), top, limit);
  } else if (!g.isSmall) {
    p.setPen(t.softInk);
    p.drawText(QRectF(g.x - 20, top - 20, g.width + 40, 18), Qt::AlignCenter, QStringLiteral("?"));
  }
  if (column.state == ColumnState::OverLimit) {
    const double side = g.width * 0.7;
    p.setPen(QPen(t.ember, 2));
    p.drawRect(QRectF(g.x + (g.width - side) / 2, top - (g.isSmall ? 5 : 9), side, g.isSmall ? 4 : 7));
  }
  if (column.state == ColumnState::Tripped) {
    const double side = g.isSmall ? 8 : 12;
    p.fillRect(QRectF(g.x + (g.width - side) / 2, top - side - 4, side, side), t.ember);
  }
}

void paintForecast(QPainter& p, const ColumnSpec& column, const Geometry& g, const Theme& t) {
  if (g.isSmall) return;
  if (column.forecastK) {
    drawLine(p, g.x - 2, g.y(*column.forecastK), g.x + g.width + 6, g.y(*column.forecastK),
             QPen(t.ink, 1, Qt::DotLine));
  }
  if (column.forecastLowK && column.forecastHighK) {
    const double right = g.x + g.width + 6;
    const double low = g.y(*column.forecastLowK), high = g.y(*column.forecastHighK);
    drawLine(p, right, low, right, high, QPen(t.ink, 1));
    drawLine(p, right - 3, low, right + 3, low, QPen(t.ink, 1));
    drawLine(p, right - 3, high, right + 3, high, QPen(t.ink, 1));
  }
  if (column.highestK && *column.highestK > column.usedK + 0.5) {
    p.setPen(Qt::NoPen);
    p.setBrush(t.ink);
    p.drawEllipse(QPointF(g.x + g.width / 2, g.y(*column.highestK)), 3, 3);
    p.setBrush(Qt::NoBrush);
  }
}

}  // namespace

ColumnState stateOfHeadroom(double usedK, const std::optional<double>& limitK) {
  if (!limitK) return ColumnState::Live;
  if (usedK > *limitK + 0.5) return ColumnState::OverLimit;
  return usedK >= *limitK - kAtLimitK ? ColumnState::AtLimit : ColumnState::Live;
}

void paintBudgetColumn(QPainter& painter, const ColumnSpec& column, double x, double footY, double width, double pxPerK,
                       const Theme& t) {
  const Geometry g{x, footY, width, pxPerK, width < 20};
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing, true);
  if (column.state != ColumnState::Planned) paintFill(painter, column, g, t);
  paintFrame(painter, column, g, t);
  const double cap = column.state == ColumnState::Done ? 3 : 1;
  if (column.state == ColumnState::Live || column.state == ColumnState::Done || column.state == ColumnState::AtLimit) {
    drawLine(painter, x, g.y(column.usedK), x + width, g.y(column.usedK), QPen(t.ink, cap));
  }
  paintForecast(painter, column, g, t);
  if (column.state == ColumnState::Void)
    drawLine(painter, x - 2, footY + 2, x + width + 2, g.y(column.limitK.value_or(kUnknownTopK)), QPen(t.ink, 2));
  drawLine(painter, x - g.overhang(), footY, x + width + g.overhang(), footY, QPen(t.ink, g.isSmall ? 1 : 2));
  painter.restore();
}

}  // namespace ash::look
