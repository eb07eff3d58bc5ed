// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/standings/trade_off.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "analysis/catalogue/figure.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/label_places.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/charts/run_figures.h"
#include "report/drawing/ticks.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

int countOf(const Comparison& comparison, const TradeOff& pair) {
  return static_cast<int>(std::count_if(comparison.rows.begin(), comparison.rows.end(), [&](const ComparisonRow& row) {
    // What worked in one of two ways only says nothing of the other.
    const auto counts = [&](const Figure& figure) {
      const auto found = row.metrics.find(figure);
      return found != row.metrics.end() && (row.way.empty() || found->second.verdict != Verdict::NotComparable);
    };
    return counts(pair.x) && counts(pair.y);
  }));
}

bool higherIsBetter(const Figure& metric) { return metric.better() == Better::Higher; }

}  // namespace

std::vector<TradeOff> tradeOffsOf(const Comparison& comparison) {
  std::vector<TradeOff> pairs;
  for (const auto& [cost, bought] : tradeOffPairs()) {
    if (const TradeOff pair{cost, bought}; countOf(comparison, pair) >= 2) pairs.push_back(pair);
  }
  return pairs;
}

std::vector<size_t> bestTradeOffs(const std::vector<std::pair<double, double>>& points, bool higherX, bool higherY) {
  const auto better = [](double a, double b, bool higher) { return higher ? a > b : a < b; };
  std::vector<size_t> best;
  for (size_t i = 0; i < points.size(); ++i) {
    const bool isBeaten = std::any_of(points.begin(), points.end(), [&](const auto& other) {
      const bool noWorse =
          !better(points[i].first, other.first, higherX) && !better(points[i].second, other.second, higherY);
      return noWorse &&
             (better(other.first, points[i].first, higherX) || better(other.second, points[i].second, higherY));
    });
    if (!isBeaten) best.push_back(i);
  }
  std::sort(best.begin(), best.end(), [&](size_t a, size_t b) { return points[a].first < points[b].first; });
  return best;
}

TradeOffPlane::TradeOffPlane(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("trade-off"));
  setAccessibleName(tr("Trade-off plane"));
  setToolTip(tr("Each setup as a point with its intervals. Joined: those that no other setup beats in both figures."));
  setMinimumHeight(px(180));
}

QSize TradeOffPlane::sizeHint() const { return {px(360), px(300)}; }

void TradeOffPlane::show(const std::shared_ptr<const StudyReport>& report, int load, const TradeOff& pair) {
  m_points.clear();
  m_best.clear();
  m_pair = pair;
  if (report && load >= 0 && load < static_cast<int>(report->loads.size()) && pair.x.id() != FigureId::Other) {
    for (const ComparisonRow& row : report->loads[static_cast<size_t>(load)].comparison.rows) {
      const auto x = row.metrics.find(pair.x), y = row.metrics.find(pair.y);
      if (x == row.metrics.end() || y == row.metrics.end()) continue;
      Point point;
      point.setup = row.setup;
      point.setupIndex = std::max(0, setupIndexOf(*report, row));
      point.x = x->second.value;
      point.y = y->second.value;
      point.halfX = (x->second.ciHigh - x->second.ciLow) / 2;
      point.halfY = (y->second.ciHigh - y->second.ciLow) / 2;
      for (const auto& run : report->runs) {
        if (std::find(row.runs.begin(), row.runs.end(), run->run.name) != row.runs.end())
          point.isBound |= wasAtLimit(*run, pair.y);
      }
      m_points.push_back(std::move(point));
    }
    std::vector<std::pair<double, double>> places;
    for (const Point& point : m_points) places.emplace_back(point.x, point.y);
    m_best = bestTradeOffs(places, higherIsBetter(pair.x), higherIsBetter(pair.y));
  }
  setAccessibleDescription(words());
  update();
}

namespace {
// So many decimals that ticks of a range differ from each other.
int digitsOver(double range) {
  return range > 0 ? std::clamp(static_cast<int>(std::ceil(-std::log10(range / 4))), 0, 4) : 0;
}
}  // namespace

QString TradeOffPlane::words() const {
  QStringList names;
  for (const size_t index : m_best) names << text(m_points[index].setup);
  return names.isEmpty() ? QString() : tr("Best trade-offs: %1.").arg(names.join(QStringLiteral(", ")));
}

void TradeOffPlane::paintAxes(QPainter& painter, const QRectF& frame, double x0, double x1, double y0,
                              double y1) const {
  const auto& t = theme();
  painter.fillRect(frame, t.panel);
  painter.setPen(t.line);
  painter.drawRect(frame);
  painter.setFont(look::font(12));
  for (const double tick : niceTicks(x0, x1, 4)) {
    const double x = frame.left() + (tick - x0) / (x1 - x0) * frame.width();
    painter.setPen(t.plotGrid);
    painter.drawLine(QPointF(x, frame.top() + 1), QPointF(x, frame.bottom() - 1));
    painter.setPen(t.softInk);
    painter.drawText(QRectF(x - px(30), frame.bottom() + px(3), px(60), px(16)), Qt::AlignCenter,
                     text(numberText(tick, digitsOver(x1 - x0))));
  }
  for (const double tick : niceTicks(y0, y1, 4)) {
    const double y = frame.bottom() - (tick - y0) / (y1 - y0) * frame.height();
    painter.setPen(t.plotGrid);
    painter.drawLine(QPointF(frame.left() + 1, y), QPointF(frame.right() - 1, y));
    painter.setPen(t.softInk);
    painter.drawText(QRectF(0, y - px(9), frame.left() - px(5), px(18)), Qt::AlignRight | Qt::AlignVCenter,
                     text(numberText(tick, digitsOver(y1 - y0))));
  }
  const auto name = [](const Figure& metric) {
    const std::string unit = metric.unit();
    return text(metric.title()) + (unit.empty() ? QString() : QStringLiteral(", ") + text(unit));
  };
  painter.setPen(t.softInk);
  painter.drawText(QRectF(0, 0, width(), px(18)), Qt::AlignLeft | Qt::AlignVCenter, name(m_pair.y));
  painter.drawText(QRectF(0, frame.bottom() + px(18), frame.right(), px(18)), Qt::AlignRight | Qt::AlignVCenter,
                   name(m_pair.x));
}

void TradeOffPlane::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  painter.fillRect(rect(), t.ground);
  if (m_points.size() < 2) {
    painter.setPen(t.softInk);
    painter.setFont(look::font(13));
    painter.drawText(
        rect(), Qt::AlignCenter | Qt::TextWordWrap,
        tr("A trade-off needs two setups that can be compared in two figures, e.g. noise and K over room."));
    return;
  }
  double x0 = INFINITY, x1 = -INFINITY, y0 = INFINITY, y1 = -INFINITY;
  for (const Point& point : m_points) {
    x0 = std::min(x0, point.x - point.halfX);
    x1 = std::max(x1, point.x + point.halfX);
    y0 = std::min(y0, point.y - point.halfY);
    y1 = std::max(y1, point.y + point.halfY);
  }
  const double padX = std::max(0.15 * (x1 - x0), 1e-6 + 0.002 * std::abs(x1)),
               padY = std::max(0.15 * (y1 - y0), 1e-6 + 0.002 * std::abs(y1));
  x0 -= padX;
  x1 += padX;
  y0 -= padY;
  y1 += padY;
  const QRectF frame(px(40), px(22), width() - px(52), height() - px(62));
  paintAxes(painter, frame, x0, x1, y0, y1);
  const auto at = [&](double x, double y) {
    return QPointF(frame.left() + (x - x0) / (x1 - x0) * frame.width(),
                   frame.bottom() - (y - y0) / (y1 - y0) * frame.height());
  };
  QPolygonF band;
  for (const size_t index : m_best) band << at(m_points[index].x, m_points[index].y);
  painter.setPen(QPen(t.line, px(10), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  if (band.size() > 1) painter.drawPolyline(band);
  for (Point& point : m_points) {
    const QPointF centre = point.at = at(point.x, point.y);
    painter.setPen(QPen(t.series(point.setupIndex), 1));
    painter.drawLine(at(point.x - point.halfX, point.y), at(point.x + point.halfX, point.y));
    painter.drawLine(at(point.x, point.y - point.halfY), at(point.x, point.y + point.halfY));
    if (point.isBound) {
      const QPointF tip = centre - QPointF(0, px(18));
      painter.drawLine(centre, tip);
      painter.drawPolyline(QPolygonF() << tip + QPointF(-4, 5) << tip << tip + QPointF(4, 5));
    }
    look::paintSetupSign(painter, point.setupIndex, centre, px(9), !point.isBound);
  }
  paintNames(painter, frame);
}

// Each name beside its point; one that finds no room is left to the tooltip.
void TradeOffPlane::paintNames(QPainter& painter, const QRectF& frame) const {
  painter.setPen(theme().ink);
  painter.setFont(look::font(12, QFont::DemiBold));
  const double high = painter.fontMetrics().height();
  std::vector<NamedPoint> points;
  for (const Point& point : m_points) {
    const auto wide = static_cast<double>(painter.fontMetrics().horizontalAdvance(text(point.setup)));
    points.push_back({point.at.x(), point.at.y(), wide, high});
  }
  const auto places = placeNames(points, {frame.x(), frame.y(), frame.width(), frame.height()}, px(6), px(8));
  for (size_t i = 0; i < places.size(); ++i) {
    if (!places[i]) continue;
    const QRectF box(places[i]->x, places[i]->y, places[i]->width, places[i]->height);
    painter.drawText(box, Qt::AlignLeft | Qt::AlignVCenter, text(m_points[i].setup));
  }
}

bool TradeOffPlane::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const auto nearest = std::min_element(m_points.begin(), m_points.end(), [&](const Point& a, const Point& b) {
    return QLineF(a.at, help->pos()).length() < QLineF(b.at, help->pos()).length();
  });
  const bool isNear = nearest != m_points.end() && QLineF(nearest->at, help->pos()).length() < px(14);
  const auto value = [](const Figure& metric, double figure) {
    return text(withUnit(shownValue(metric, figure), metric.digits(), shownUnit(metric)));
  };
  QToolTip::showText(
      help->globalPos(),
      isNear ? tr("%1: %2, %3").arg(text(nearest->setup), value(m_pair.x, nearest->x), value(m_pair.y, nearest->y))
             : toolTip(),
      this);
  return true;
}

}  // namespace ash

#include "moc_trade_off.cpp"
