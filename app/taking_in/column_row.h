// SPDX-License-Identifier: GPL-3.0-or-later
// One column of a log as a lane that is drawn already, with its role, and why it has it.
#pragma once

#include <QWidget>

#include "intake/log_look.h"

class QCheckBox;
class QComboBox;
class QLabel;

namespace ash {

/// A lane from end to end: the least and the most of each step.
class ColumnLane : public QWidget {
 public:
  explicit ColumnLane(QWidget* parent);
  void show(LaneShape shape, int colour);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  LaneShape m_shape;
  int m_colour = 0;
};

class ColumnRow : public QWidget {
  Q_OBJECT
 public:
  ColumnRow(const ColumnFacts& facts, const LaneShape* shape, int colour, QWidget* parent);
  /// A column that is left out: it can be taken again.
  ColumnRow(const QString& name, QWidget* parent);

 signals:
  /// A person said what the column is; an empty role: it has none.
  void roleSaid(const QString& column, const QString& role);
  void takenSaid(const QString& column, bool isTaken);

 private:
  void build(const QString& name, bool isTaken);
  void fillRoles(const PlannedColumn& column);

  QString m_name;
  QCheckBox* m_taken = nullptr;
  QComboBox* m_role = nullptr;
  QLabel* m_why = nullptr;
  ColumnLane* m_lane = nullptr;
};

/// "by its name and unit", "as you said before" …
QString reasonWords(const ColumnFacts& facts);

}  // namespace ash
