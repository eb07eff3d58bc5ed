// SPDX-License-Identifier: GPL-3.0-or-later
// The Plan station: question, conditions, grid, setup, procedure, next run.
#pragma once

#include <QWidget>

#include "app/study/start_request.h"
#include "model/attachment.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace ash {

class HeldPanel;
class NewStudyForm;
class NextPanel;
class Pictures;
class KnobPage;
class LadderPage;
class PlanGrid;
class SetupPanel;
class StudyDesk;

class PlanStation : public QWidget {
  Q_OBJECT
 public:
  PlanStation(StudyDesk& desk, Pictures& pictures, QWidget* parent);

  /// What Start asks for: the next run of the plan.
  StartRequest request() const;
  void showNewStudy();
  void duplicateSetup();
  void addSetup();
  void focusGrid();
  void showCell(const QString& setup, const QString& load);
  /// Names of setup and load of the cell at a place of the screen; none beside the cells.
  std::optional<std::pair<QString, QString>> cellAt(const QPoint& onScreen) const;
  /// To whom a file belongs that is dropped at a place of the screen, or pasted: the setup of that cell, else the
  /// selected one. Without a row when there is none.
  Attachment ownerAt(std::optional<QPoint> onScreen) const;
  void setRunning(bool isRunning);
  void setStarting(bool isStarting);
  void setProblem(const QString& sentence);
  NextPanel* nextPanel() { return m_next; }
  /// The ladders of the study in place of the grid, or the grid again.
  void showLadders(bool isShown);
  void showKnobs();

 signals:
  void startWanted();
  /// All runs that are left, one after the other.
  void queueWanted();
  void watchWanted(const QString& run);
  /// Arguments of `ashg ladder`, without the book.
  void climbWanted(const QStringList& arguments);

 private:
  void showMiddle(QWidget* page);
  QWidget* buildPlan();
  QWidget* buildGridSide();
  QWidget* buildMiddle();
  void refresh();
  void fillLoads();
  void addLoad(int index);
  void removeLoad();

  StudyDesk& m_desk;
  Pictures& m_pictures;
  QStackedWidget* m_stack;
  NewStudyForm* m_newStudy;
  QLineEdit* m_question;
  HeldPanel* m_held;
  QStackedWidget* m_middle;
  LadderPage* m_ladders;
  KnobPage* m_knobs;
  PlanGrid* m_grid;
  SetupPanel* m_setup;
  NextPanel* m_next;
  QComboBox* m_addLoad;
  QPushButton* m_removeLoad;
  QPushButton* m_thisCell;
};

}  // namespace ash
