// SPDX-License-Identifier: GPL-3.0-or-later
// The budget column: foot = room, top = limit, fill = what the load has used, tick = where it will settle.
#pragma once

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <optional>

#include "app/look/theme.h"

namespace ash::look {

/// One sign only; the first that holds: void, went down, tripped, over, at its limit.
enum class ColumnState { Live, Done, Planned, Void, WentDown, AtLimit, OverLimit, Tripped };

/// All heights in kelvin over room.
struct ColumnSpec {
  double usedK = 0;
  std::optional<double> limitK;    ///< no limit known: dotted, with a question mark on top
  std::optional<double> highestK;  ///< dot
  std::optional<double> forecastK, forecastLowK, forecastHighK;
  ColumnState state = ColumnState::Live;
  QColor fill;
};

/// The state that readings alone lead to: over the limit, at it (within 1.5 K), or live.
ColumnState stateOfHeadroom(double usedK, const std::optional<double>& limitK);

/// Paints into a column whose foot is at (`x`, `footY`), `width` wide, `pxPerK` high per kelvin. Small columns (below
/// 20 px) show fill, limit and one state sign only.
void paintBudgetColumn(QPainter& painter, const ColumnSpec& column, double x, double footY, double width, double pxPerK,
                       const Theme& theme);

}  // namespace ash::look
