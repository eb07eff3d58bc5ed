// SPDX-License-Identifier: GPL-3.0-or-later
// The left-hand side of the plan: what is held equal, what is under test, how often and on what.
#pragma once

#include <QWidget>

#include "model/study_plan.h"

class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;
class QSpinBox;
class QTableWidget;

namespace ash {

class QuestionField;
class StudyDesk;

class HeldPanel : public QWidget {
  Q_OBJECT
 public:
  HeldPanel(StudyDesk& desk, QWidget* parent);

 private:
  void refresh();
  void fillTable();
  void takeCell(int row, int column, const std::string& typed);
  void addLines();
  void addUntilDecided(QHBoxLayout* row);
  void refreshOutlook();
  void takeByHand();
  void takeRules();
  /// A number in K, or empty, into a field of the plan.
  void takeKelvin(QLineEdit* line, const QString& what, const QString& edit, std::optional<double> StudyPlan::*field);
  QLineEdit* addLine(const QString& name, const QString& objectName, const QString& tip);

  StudyDesk& m_desk;
  QTableWidget* m_table;
  QLineEdit* m_underTest;
  QComboBox* m_figure;
  QuestionField* m_asks;
  QLineEdit* m_margin;
  QLineEdit* m_scatter;
  QSpinBox* m_repeats;
  QCheckBox* m_untilDecided;
  QLabel* m_outlook;
  QLineEdit* m_byHand;
  QLineEdit* m_rules;
  QComboBox* m_bench;
  QLabel* m_speedLabel;
  QSpinBox* m_speed;
  QLabel* m_problem;
  bool m_isFilling = false;
};

}  // namespace ash
