// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders of the study on Plan: what was found, the steps as columns, and the form that begins one.
#pragma once

#include <QStringList>
#include <QWidget>
#include <optional>

#include "ladder/ladder.h"

class QComboBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QTimer;

namespace ash {

class LadderForm;
class LadderRow;
class StudyDesk;

class LadderPage : public QWidget {
  Q_OBJECT
 public:
  LadderPage(StudyDesk& desk, QWidget* parent);
  /// The setup and the load whose knob a new ladder turns.
  void setPlace(const QString& setup, const QString& load);
  void setRunning(bool isRunning);
  void setProblem(const QString& sentence);
  LadderForm* form() { return m_form; }

 signals:
  /// Arguments of `ashg ladder`, without the book.
  void climbWanted(const QStringList& arguments);
  void runWanted(const QString& run);
  void backWanted();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QWidget* buildHead();
  void refresh();
  void showChosen();
  void goOn();

  StudyDesk& m_desk;
  std::vector<Ladder> m_ladders;
  std::string m_shownId;
  bool m_isRunning = false;
  QComboBox* m_which;
  QScrollArea* m_rowArea;
  LadderRow* m_row;
  QLabel* m_answer;
  QPushButton* m_goOn;
  QTimer* m_again;  // looks again whether it is climbed
  LadderForm* m_form;
};

}  // namespace ash
