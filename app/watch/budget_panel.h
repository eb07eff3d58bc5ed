// SPDX-License-Identifier: GPL-3.0-or-later
// The right-hand side: budget columns of the devices on one scale, what slowed it, fans, room and stop rules.
#pragma once

#include <QWidget>

class QLabel;

namespace ash {

class LiveModel;

/// The columns with their scale and figures.
class BudgetColumns : public QWidget {
  Q_OBJECT
 public:
  BudgetColumns(const LiveModel& model, QWidget* parent);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  double scaleTopK() const;
  void paintScale(QPainter& painter, double footY, double pxPerK) const;
  void paintDevice(QPainter& painter, const std::string& column, double x, double footY, double pxPerK) const;

  const LiveModel& m_model;
};

class BudgetPanel : public QWidget {
  Q_OBJECT
 public:
  BudgetPanel(const LiveModel& model, QWidget* parent);

 private:
  void refresh();
  QString fansText() const;
  QString roomText() const;
  QString rulesText() const;

  const LiveModel& m_model;
  QLabel* m_head;
  BudgetColumns* m_columns;
  QLabel* m_slowed;
  QLabel* m_fans;
  QLabel* m_room;
  QLabel* m_rules;
};

}  // namespace ash
