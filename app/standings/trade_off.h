// SPDX-License-Identifier: GPL-3.0-or-later
// The trade-off plane: two figures against each other, every setup a point with its intervals, the best trade-offs
// joined.
#pragma once

#include <QWidget>

#include "report/study/study_report.h"

namespace ash {

/// A pair of figures that are worth a plane.
struct TradeOff {
  Figure x = FigureId::Other, y = FigureId::Other;
};
/// The pairs that at least two setups of a load have.
std::vector<TradeOff> tradeOffsOf(const Comparison& comparison);

/// Points that no other beats in both figures, in the order of x. `points` are (x, y); `higherX`, `higherY` say which
/// way is better. Pure.
std::vector<size_t> bestTradeOffs(const std::vector<std::pair<double, double>>& points, bool higherX, bool higherY);

class TradeOffPlane : public QWidget {
  Q_OBJECT
 public:
  explicit TradeOffPlane(QWidget* parent);
  void show(const std::shared_ptr<const StudyReport>& report, int load, const TradeOff& pair);
  /// In words: which setups are the best trade-offs.
  QString words() const;
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Point {
    std::string setup;
    int setupIndex = 0;
    double x = 0, y = 0, halfX = 0, halfY = 0;
    bool isBound = false;
    QPointF at;  ///< where it was painted last
  };
  void paintNames(QPainter& painter, const QRectF& frame) const;
  void paintAxes(QPainter& painter, const QRectF& frame, double x0, double x1, double y0, double y1) const;

  TradeOff m_pair;
  std::vector<Point> m_points;
  std::vector<size_t> m_best;
};

}  // namespace ash
