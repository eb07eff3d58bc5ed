// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/standings/rank_view.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "app/look/budget_column.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/answer/stated.h"
#include "report/charts/run_figures.h"
#include "report/drawing/ticks.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {
constexpr int kLeastPitch = 72;
constexpr double kLeft = 34, kNarrowPitch = 84, kMostPitch = 120, kWide = 38, kTop = 40, kBelow = 144, kSecondName = 15;
constexpr int kOfNoSetup = -1;
}  // namespace

RankView::RankView(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("rank"));
  setAccessibleName(tr("Ranking of the setups"));
  setToolTip(
      tr("The best first. Foot: the room (or zero). Line on top: the limit. Bar at the right: the 95 % interval of the "
         "mean; marks: each repeat. Bracket at the left: "
         "what was expected; broken: what others claim."));
}

QSize RankView::sizeHint() const { return minimumSizeHint(); }
QSize RankView::minimumSizeHint() const {
  return {px(kLeft + 8 + m_leastPitch * std::max<double>(3, static_cast<double>(m_columns.size()))), px(300)};
}

void RankView::show(const std::shared_ptr<const StudyReport>& report, int load, const Figure& metric) {
  m_report = report;
  m_load = load;
  m_metric = metric;
  m_unit = text(shownUnit(metric));
  m_leastPitch = kLeastPitch;
  fill();
  updateGeometry();
  update();
}

RankView::Column RankView::columnOf(const ComparisonRow& row,
                                    const std::vector<std::shared_ptr<const AnalyzedRun>>& runs) const {
  Column column;
  const MetricRow& figure = row.metrics.at(m_metric);
  column.setup = row.setup;
  column.value = shownValue(m_metric, figure.value);
  column.low = shownValue(m_metric, figure.ciLow);
  column.high = shownValue(m_metric, figure.ciHigh);
  for (const auto& run : runs) {
    if (std::find(row.runs.begin(), row.runs.end(), run->run.name) == row.runs.end()) continue;
    if (const double value = figureOfRun(*run, m_metric); std::isfinite(value))
      column.repeats.push_back(shownValue(m_metric, value));
    if (const auto limit = limitOfMetric(*run, m_metric)) column.limit = std::max(column.limit.value_or(0), *limit);
    column.isAtLimit |= wasAtLimit(*run, m_metric);
  }
  column.isBound = column.isAtLimit;
  column.figure = text(valueBesideMargin(row, m_metric));
  column.margin = text(marginText(row, m_metric));
  column.runs = row.repeats == 1 ? tr("1 run") : tr("%1 runs").arg(row.repeats);
  if (column.limit)
    column.left =
        column.isAtLimit ? tr("at its limit") : tr("%1 left").arg(text(withUnit(*column.limit - column.value, 1, "K")));
  const auto price = row.metrics.find(FigureId::Price);
  if (price != row.metrics.end()) column.price = text(numberText(price->second.value, 0));
  return column;
}

void RankView::fill() {
  m_columns.clear();
  if (!m_report || m_load < 0 || m_load >= static_cast<int>(m_report->loads.size())) return;
  const LoadStanding& load = m_report->loads[static_cast<size_t>(m_load)];
  QStringList spoken;
  for (const ComparisonRow* row : ranked(load.comparison, m_metric)) {
    Column column = columnOf(*row, m_report->runs);
    column.setupIndex = std::max(0, setupIndexOf(*m_report, *row));
    for (const ComparisonCheck& check : load.comparison.checks) {
      const bool concerns = std::any_of(check.between.begin(), check.between.end(), [&](const std::string& run) {
        return std::find(row->runs.begin(), row->runs.end(), run) != row->runs.end();
      });
      const bool isReference = referenceRow(load.comparison) == row && check.between.size() > 1;
      column.hasWarning |= concerns && !isReference && check.severity != Severity::Info;
    }
    for (const Setup& setup : m_report->study.setups) {
      if (setup.name == row->setup && !column.price.isEmpty())
        column.price += QStringLiteral("\u202F") + text(valueIn(setup.conditions, "currency", std::string()));
    }
    spoken << tr("%1. %2: %3 %4")
                  .arg(m_columns.size() + 1)
                  .arg(text(column.setup), column.figure, column.margin + QStringLiteral(", ") + column.runs);
    addSaid(load, column, spoken);
    m_columns.push_back(std::move(column));
  }
  fillEarlier(load, spoken);
  setAccessibleDescription(spoken.join(QStringLiteral("; ")));
}

// What was said of the figure itself; a difference has no place on its scale.
void RankView::addSaid(const LoadStanding& load, Column& column, QStringList& spoken) const {
  for (const StatedOutcome& outcome : outcomesOf(*m_report, load)) {
    const StatedFigure& one = *outcome.stated;
    if (one.setup != column.setup || one.isDifference || !(Figure(one.figure) == m_metric) || !one.takenBack.empty())
      continue;
    column.said.push_back(
        {shownValue(m_metric, one.low), shownValue(m_metric, one.high), one.kind == StatedKind::Claimed});
    spoken << tr("%1 %2 of %3").arg(text(statedBy(one)), text(statedRange(one)), text(one.setup));
  }
}

// At the right end, in the order in which they were chosen.
void RankView::fillEarlier(const LoadStanding& load, QStringList& spoken) {
  for (const EarlierRow& earlier : load.earlier) {
    if (!earlier.row.metrics.contains(m_metric)) continue;
    std::vector<std::shared_ptr<const AnalyzedRun>> runs;
    for (const EarlierSetup& setup : m_report->earlier) {
      if (setup.label == earlier.label) runs = setup.runs;
    }
    Column column = columnOf(earlier.row, runs);
    column.isEarlier = true;
    column.study = tr("of %1").arg(text(earlier.what.study));
    column.setup = earlier.what.setup;
    column.setupIndex = kOfNoSetup;
    column.hasWarning = !earlier.isLikeForLike();
    column.price.clear();
    spoken << tr("beside, not ranked: %1: %2 %3").arg(text(earlier.label), column.figure, column.margin);
    m_columns.push_back(std::move(column));
  }
}

size_t RankView::ownColumns() const {
  return static_cast<size_t>(
      std::count_if(m_columns.begin(), m_columns.end(), [](const Column& column) { return !column.isEarlier; }));
}

double RankView::pitch() const {
  const double fitting = (width() - px(kLeft + 10)) / std::max<double>(1, static_cast<double>(m_columns.size()));
  return std::clamp<double>(fitting, px(m_leastPitch), px(kMostPitch));
}

bool RankView::hasLongNames() const {
  const QFontMetrics metrics(look::font(12, QFont::DemiBold));
  return std::any_of(m_columns.begin(), m_columns.end(), [&](const Column& column) {
    return column.isEarlier || metrics.horizontalAdvance(text(column.setup)) > static_cast<int>(pitch()) - px(4);
  });
}

double RankView::scaleTop() const {
  double top = 1e-9;
  for (const Column& column : m_columns) {
    top = std::max({top, column.value, column.limit.value_or(0)});
    for (const double repeat : column.repeats) top = std::max(top, repeat);
    for (const Column::Said& said : column.said) top = std::max(top, said.high);
  }
  return top;
}

void RankView::paintScale(QPainter& painter, double foot, double pxPerUnit) const {
  const auto& t = theme();
  painter.setFont(look::font(12));
  for (const double tick : niceTicks(0, scaleTop(), 4)) {
    const double y = foot - tick * pxPerUnit;
    painter.setPen(QPen(t.line, 1, Qt::DotLine));
    painter.drawLine(QPointF(px(kLeft), y), QPointF(width() - px(8), y));
    painter.setPen(t.softInk);
    painter.drawText(QRectF(0, y - px(9), px(kLeft - 8), px(18)), Qt::AlignRight | Qt::AlignVCenter,
                     text(numberText(tick, scaleTop() < 5 ? 1 : 0)));
  }
  painter.drawText(QRectF(0, px(6), px(kLeft - 8), px(18)), Qt::AlignRight | Qt::AlignVCenter, m_unit);
}

// At the left, open: a bracket for what was expected, a broken one for what is claimed. Never filled, for it is no
// measurement.
void RankView::paintSaid(QPainter& painter, const Column& column, double x, double foot, double pxPerUnit) const {
  double at = x - px(7);
  for (const Column::Said& said : column.said) {
    const double low = foot - said.low * pxPerUnit, high = foot - said.high * pxPerUnit;
    painter.setPen(QPen(theme().softInk, 1.5, said.isClaim ? Qt::DotLine : Qt::SolidLine));
    painter.drawLine(QPointF(at, low), QPointF(at, high));
    painter.drawLine(QPointF(at, low), QPointF(at + px(5), low));
    painter.drawLine(QPointF(at, high), QPointF(at + px(5), high));
    at -= px(4);
  }
}

void RankView::paintColumn(QPainter& painter, const Column& column, int rank, double x, double foot,
                           double pxPerUnit) const {
  const auto& t = theme();
  look::ColumnSpec spec;
  spec.usedK = column.value;
  spec.limitK = column.limit;
  spec.fill = column.isEarlier ? t.strongLine : t.series(column.setupIndex);
  spec.state = column.isAtLimit ? look::ColumnState::AtLimit : look::ColumnState::Done;
  if (column.limit) {
    look::paintBudgetColumn(painter, spec, x, foot, px(kWide), pxPerUnit, t);
  } else {
    painter.fillRect(QRectF(x + 4, foot - column.value * pxPerUnit, px(kWide) - 8, column.value * pxPerUnit),
                     spec.fill);
    painter.setPen(QPen(t.ink, 2));
    painter.drawLine(QPointF(x - 4, foot), QPointF(x + px(kWide) + 4, foot));
    painter.drawLine(QPointF(x, foot - column.value * pxPerUnit),
                     QPointF(x + px(kWide), foot - column.value * pxPerUnit));
  }
  if (column.part) {
    painter.setPen(QPen(t.onInk(), 2));
    painter.drawLine(QPointF(x + 4, foot - *column.part * pxPerUnit),
                     QPointF(x + px(kWide) - 4, foot - *column.part * pxPerUnit));
  }
  paintSaid(painter, column, x, foot, pxPerUnit);
  // Margin and repeats at the right.
  const double right = x + px(kWide) + px(8);
  painter.setPen(QPen(t.ink, 1));
  if (std::isfinite(column.low) && std::isfinite(column.high)) {
    const double low = foot - column.low * pxPerUnit, high = foot - column.high * pxPerUnit;
    painter.drawLine(QPointF(right, low), QPointF(right, high));
    painter.drawLine(QPointF(right - 3, low), QPointF(right + 3, low));
    painter.drawLine(QPointF(right - 3, high), QPointF(right + 3, high));
  }
  double at = right + px(9);
  for (const double repeat : column.repeats) {
    look::paintSetupSign(painter, column.setupIndex, {at, foot - repeat * pxPerUnit}, px(6), !column.isAtLimit);
    at += px(9);
  }
  if (column.hasWarning) {
    painter.setPen(t.ink);
    painter.setFont(look::font(15, QFont::Bold));
    painter.drawText(QRectF(x, px(14), px(kWide), px(20)), Qt::AlignCenter, QStringLiteral("!!"));
  }
  double y = foot + px(6);
  const auto line = [&](const QString& words, const QFont& font, const QColor& colour, double high) {
    painter.setFont(font);
    painter.setPen(colour);
    painter.drawText(QRectF(x - px(6), y, static_cast<int>(pitch()) - px(4), high), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(pitch()) - px(4)));
    y += high;
  };
  line(column.isEarlier ? tr("beside") : QStringLiteral("%1   %2").arg(rank).arg(column.price),
       look::font(13, column.isEarlier ? QFont::Normal : QFont::DemiBold), column.isEarlier ? t.softInk : t.ink,
       px(18));
  // Names of several setups often begin alike: their ends must be seen.
  const QFont nameFont = look::font(12, QFont::DemiBold);
  QStringList names =
      look::inTwoLines(text(column.setup), nameFont, static_cast<int>(pitch()) - px(4)).split(QLatin1Char('\n'));
  if (column.isEarlier) names = {text(column.setup), column.study};
  for (const QString& name : names) line(name, nameFont, column.isEarlier ? t.softInk : t.ink, px(kSecondName));
  if (hasLongNames() && names.size() == 1) y += px(kSecondName);
  if (column.isBound) line(tr("at least"), look::font(12, QFont::DemiBold), t.ember, px(15));
  line(column.figure, look::font(pitch() < px(kNarrowPitch) ? 14 : 17, QFont::DemiBold), t.ink, px(24));
  line(column.margin, look::font(12), t.softInk, px(16));
  line(column.runs, look::font(12), t.softInk, px(16));
  line(column.left, look::font(12, column.isAtLimit ? QFont::DemiBold : QFont::Normal),
       column.isAtLimit ? t.ember : t.softInk, px(16));
}

void RankView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  painter.fillRect(rect(), t.ground);
  if (m_columns.empty()) {
    painter.setFont(look::font(13));
    painter.setPen(t.softInk);
    painter.drawText(rect().adjusted(px(16), 0, -px(16), 0), Qt::AlignCenter | Qt::TextWordWrap,
                     tr("No run has this figure yet."));
    return;
  }
  const double foot = height() - px(kBelow) - (hasLongNames() ? px(kSecondName) : 0);
  const double pxPerUnit = (foot - px(kTop)) / scaleTop();
  paintScale(painter, foot, pxPerUnit);
  double x = px(kLeft + 10);
  int rank = 0;
  for (const Column& column : m_columns) {
    if (column.isEarlier && rank == static_cast<int>(ownColumns())) {
      painter.setPen(QPen(t.strongLine, 1));
      for (const double apart : {0.0, 3.0})
        painter.drawLine(QPointF(x - px(8) + apart, px(14)), QPointF(x - px(8) + apart, height() - px(8)));
      x += px(6);
    }
    paintColumn(painter, column, ++rank, x, foot, pxPerUnit);
    x += pitch();
  }
}

}  // namespace ash

#include "moc_rank_view.cpp"
