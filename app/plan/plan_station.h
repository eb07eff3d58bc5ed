// SPDX-License-Identifier: GPL-3.0-or-later
// The Plan station: question, conditions, grid, setup, procedure, next run.
#pragma once

#include <QWidget>

#include "app/study/start_request.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace ash {

class HeldPanel;
class NewStudyForm;
class NextPanel;
class PlanGrid;
class SetupPanel;
class StudyDesk;

class PlanStation : public QWidget {
  Q_OBJECT
 public:
  PlanStation(StudyDesk& desk, QWidget* parent);

  /// What Start asks for: the next run of the plan.
  StartRequest request() const;
  void showNewStudy();
  void duplicateSetup();
  void addSetup();
  void focusGrid();
  void showCell(const QString& setup, const QString& load);
  /// Names of setup and load of the cell at a place of the screen; none beside the cells.
  std::optional<std::pair<QString, QString>> cellAt(const QPoint& onScreen) const;
  void setRunning(bool isRunning);
  void setStarting(bool isStarting);
  void setProblem(const QString& sentence);
  NextPanel* nextPanel() { return m_next; }

 signals:
  void startWanted();
  /// All runs that are left, one after the other.
  void queueWanted();
  void watchWanted(const QString& run);

 private:
  QWidget* buildPlan();
  QWidget* buildGridSide();
  void refresh();
  void fillLoads();
  void addLoad(int index);
  void removeLoad();

  StudyDesk& m_desk;
  QStackedWidget* m_stack;
  NewStudyForm* m_newStudy;
  QLineEdit* m_question;
  HeldPanel* m_held;
  PlanGrid* m_grid;
  SetupPanel* m_setup;
  NextPanel* m_next;
  QComboBox* m_addLoad;
  QPushButton* m_removeLoad;
  QPushButton* m_thisCell;
};

}  // namespace ash
