// SPDX-License-Identifier: GPL-3.0-or-later
// The grid: setups down, loads across, in each cell a row of small budget columns and the study's figure.
#pragma once

#include <QWidget>
#include <optional>

#include "model/run_order.h"

namespace ash {

class StudyDesk;

class PlanGrid : public QWidget {
  Q_OBJECT
 public:
  PlanGrid(const StudyDesk& desk, QWidget* parent);

  int setup() const { return m_setup; }
  int load() const { return m_load; }
  /// Selects a cell; out of range is brought into range.
  void select(int setup, int load);
  /// Setup and load of the cell at a place of the widget; they may be out of range.
  std::optional<std::pair<int, int>> cellUnder(const QPointF& place) const;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 signals:
  void selected();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Columns {
    double first, width;
  };
  Columns columns() const;
  QRectF cellRect(int setup, int load) const;
  void paintHeads(QPainter& painter) const;
  void paintSetup(QPainter& painter, int setup) const;
  void paintCell(QPainter& painter, int setup, int load) const;
  void paintPlaces(QPainter& painter, const QRectF& cell, int setup, int load) const;
  QStringList cellLines(int setup, int load) const;
  std::vector<const RunSummary*> runsOf(int setup, int load) const;

  const StudyDesk& m_desk;
  int m_setup = 0, m_load = 0;
};

}  // namespace ash
