// SPDX-License-Identifier: GPL-3.0-or-later
// The windows that figures come from, as bars under the axis; their ends can be dragged.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "analysis/series/series.h"

namespace ash {

class WindowStrip : public QWidget {
  Q_OBJECT
 public:
  struct Bar {
    TimeSpan span;  ///< aligned
    int setupIndex = 0;
  };
  explicit WindowStrip(QWidget* parent);
  /// `pixelOf` and `timeAt` map between the axis and this widget.
  /// Where the lanes above begin and end: a bar is not drawn beyond them.
  void setEdges(std::function<std::pair<double, double>()> edges) { m_edges = std::move(edges); }
  void setMapping(std::function<double(double)> pixelOf, std::function<double(double)> timeAt);
  void setBars(std::vector<Bar> bars);
  QSize sizeHint() const override;

 signals:
  /// A window of one's own, dragged or moved by keys.
  void windowChanged(double startS, double endS);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  std::function<std::pair<double, double>()> m_edges;
  std::function<double(double)> m_pixelOf, m_timeAt;
  std::vector<Bar> m_bars;
  TimeSpan m_dragged;
  int m_end = 0;  // which end is dragged: -1 start, 1 end, 0 none
};

}  // namespace ash
