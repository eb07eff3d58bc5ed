// SPDX-License-Identifier: GPL-3.0-or-later
// A second log under the run it belongs to, on one axis of time; dragging it changes its offset.
#pragma once

#include <QWidget>

#include "intake/log_look.h"

namespace ash {

class BesideLane : public QWidget {
  Q_OBJECT
 public:
  explicit BesideLane(QWidget* parent);
  void show(LaneShape run, LaneShape log);
  /// Run time = offset + log time · (1 + drift).
  void setOffset(double offsetS, double drift);
  double offsetS() const { return m_offsetS; }

 signals:
  /// Dragged, or moved by an arrow key (a second; with Shift a tenth).
  void moved(double offsetS);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  double secondsOfPx() const;
  void paintShape(QPainter& painter, const LaneShape& shape, const QString& whose, const QRectF& lane, double offsetS,
                  double stretch, const QColor& colour) const;

  LaneShape m_run, m_log;
  double m_offsetS = 0, m_drift = 0;
  double m_fromS = 0, m_toS = 1;  // what is shown
  double m_pressedX = 0, m_pressedOffsetS = 0;
  bool m_isDragged = false;
};

}  // namespace ash
