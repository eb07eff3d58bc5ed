// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked of the figure: a kind of question, and its target where it has one.
#pragma once

#include <QWidget>

class QComboBox;
class QLineEdit;

namespace ash {

class StudyDesk;

class QuestionField : public QWidget {
  Q_OBJECT
 public:
  QuestionField(StudyDesk& desk, QWidget* parent);
  /// Shows what the plan asks; what is being typed stays.
  void refresh();

 signals:
  /// A sentence on what cannot be taken; empty once it can.
  void problem(const QString& words);

 private:
  void takeKind();
  void takeTarget();

  StudyDesk& m_desk;
  QComboBox* m_kind;
  QLineEdit* m_target;
};

}  // namespace ash
