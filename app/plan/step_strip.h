// SPDX-License-Identifier: GPL-3.0-or-later
// The procedure as steps with their end conditions in words, and the line that changes it.
#pragma once

#include <QWidget>

#include "model/procedure.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace ash {

class StudyDesk;

/// The boxes.
class StepBoxes : public QWidget {
  Q_OBJECT
 public:
  explicit StepBoxes(QWidget* parent);
  void setProcedure(const Procedure& procedure);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString title(const WrittenPhase& one) const;

  Procedure m_procedure;
  std::vector<WrittenPhase> m_written;
};

class StepStrip : public QWidget {
  Q_OBJECT
 public:
  StepStrip(StudyDesk& desk, QWidget* parent);

 private:
  void refresh();
  void take();
  QPushButton* choiceOfPresets();

  StudyDesk& m_desk;
  QLabel* m_time;
  QPushButton* m_change;
  QStackedWidget* m_stack;
  StepBoxes* m_boxes;
  QLineEdit* m_line;
  QLabel* m_problem;
};

}  // namespace ash
