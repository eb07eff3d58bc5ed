// SPDX-License-Identifier: GPL-3.0-or-later
// How the selected setup carries out the selected load: as every setup does, or in a way of its own.
#pragma once

#include <QWidget>

class QLabel;
class QLineEdit;

namespace ash {

class StudyDesk;

class WayField : public QWidget {
  Q_OBJECT
 public:
  WayField(StudyDesk& desk, QWidget* parent);
  /// Of the cell at these places of the study.
  void show(int setup, int load);

 private:
  void take();
  void fill();

  StudyDesk& m_desk;
  int m_setup = 0, m_load = 0;
  QString m_shown;  // setup and load that the line is of
  QLineEdit* m_line;
  QLabel* m_runs;
  QLabel* m_problem;
};

}  // namespace ash
