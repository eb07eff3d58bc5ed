// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that were not measured: what setups would do elsewhere, and what they cost a person.
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/standings/rank_view.h"
#include "model/number_text.h"
#include "report/answer/leaning.h"

namespace ash {
using look::text;
namespace {

constexpr double kMostlyThrottles = 0.5, kMhzPerGhz = 1000;
constexpr int kWidePitch = 96;  // that their lines have room

QString halfWords(double low, double high) {
  return std::isfinite(low) && std::isfinite(high) ? QStringLiteral("± ") + text(withUnit((high - low) / 2, 1, "K"))
                                                   : QString();
}

QString runsWords(int runs) { return runs == 1 ? QObject::tr("1 run") : QObject::tr("%1 runs").arg(runs); }

// Narrow, as a column is: "<0.1 %".
QString shortChance(double chance) {
  constexpr double kNearlyNone = 0.001;
  if (chance < kNearlyNone) return QStringLiteral("<") + text(withUnit(100 * kNearlyNone, 1, "%"));
  if (chance > 1 - kNearlyNone) return QStringLiteral(">") + text(withUnit(100 * (1 - kNearlyNone), 1, "%"));
  return text(chanceWords(chance));
}

// What heat does to it there, in few letters.
QString endWords(const ProjectedSetup& setup) {
  if (!setup.throttleChance) return QObject::tr("limit unknown");
  if (*setup.throttleChance >= kMostlyThrottles && setup.heldMhz)
    return QObject::tr("holds %1").arg(text(withUnit(setup.heldMhz->value / kMhzPerGhz, 2, "GHz")));
  if (*setup.throttleChance >= kMostlyThrottles && setup.heldPowerW)
    return QObject::tr("holds %1").arg(text(withUnit(setup.heldPowerW->value, 0, "W")));
  return QObject::tr("%1 left").arg(text(withUnit(*setup.limitC - setup.temperatureC.value, 1, "K")));
}

}  // namespace

void RankView::showColumns(std::vector<Column> columns, const QString& unit) {
  QStringList spoken;
  for (const Column& column : columns)
    spoken << QStringList{text(column.setup), column.figure, column.margin, column.runs, column.left}.join(
        QStringLiteral(", "));
  m_columns = std::move(columns);
  m_unit = unit;
  m_leastPitch = kWidePitch;
  setAccessibleDescription(spoken.join(QStringLiteral("; ")));
  updateGeometry();
  update();
}

void RankView::showProjected(const std::vector<ProjectedSetup>& setups) {
  std::vector<Column> columns;
  for (const ProjectedSetup& setup : setups) {
    Column column;
    column.setup = setup.setup;
    column.setupIndex = setup.setupIndex;
    column.value = setup.temperatureC.value;
    column.low = setup.temperatureC.low;
    column.high = setup.temperatureC.high;
    column.limit = setup.limitC;
    column.isAtLimit = setup.limitC && column.value >= *setup.limitC;
    // It would be held there: what it would reach unheld is no temperature of this bench.
    if (column.isAtLimit) column.value = column.low = column.high = *setup.limitC;
    column.figure = text(withUnit(column.value, 1, "°C"));
    column.margin = column.isAtLimit ? tr("at its limit") : halfWords(column.low, column.high);
    column.runs =
        setup.throttleChance ? tr("throttles %1").arg(shortChance(*setup.throttleChance)) : runsWords(setup.runs);
    column.left = endWords(setup);
    columns.push_back(std::move(column));
  }
  showColumns(std::move(columns), QStringLiteral("°C"));
}

void RankView::showWeighed(const Weighing& weighing) {
  std::vector<Column> columns;
  for (const WeighedSetup& setup : weighing.order) {
    Column column;
    column.setup = setup.setup;
    column.setupIndex = setup.setupIndex;
    column.value = setup.totalK();
    column.low = setup.totalK() - setup.halfK;
    column.high = setup.totalK() + setup.halfK;
    column.isBound = setup.isAtLeast;
    column.part = setup.temperatureK;
    column.figure = text(withUnit(setup.totalK(), 1, "K"));
    column.margin = halfWords(column.low, column.high);
    column.runs = tr("noise +%1").arg(text(withUnit(setup.noiseK, 1, "K")));
    column.left = tr("price +%1").arg(text(withUnit(setup.priceK, 1, "K")));
    columns.push_back(std::move(column));
  }
  showColumns(std::move(columns), QStringLiteral("K"));
}

}  // namespace ash
