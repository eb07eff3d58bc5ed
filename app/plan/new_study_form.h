// SPDX-License-Identifier: GPL-3.0-or-later
// A new study: its question, its setups, its loads. The rest has defaults and is changed in the plan.
#pragma once

#include <QWidget>

#include "load/load_text.h"
#include "model/study_plan.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QVBoxLayout;

namespace ash {

class StudyDesk;

class NewStudyForm : public QWidget {
  Q_OBJECT
 public:
  NewStudyForm(StudyDesk& desk, QWidget* parent);
  /// Empties the form and puts the cursor into it.
  void begin();

 signals:
  void made();
  void cancelled();

 private:
  void buildFields(QVBoxLayout* column);
  void benchChanged();
  void check();
  void make();
  QStringList setupNames() const;
  /// The loads of the line below the boxes; the error says what is wrong with one.
  Result<std::vector<NamedLoad>> moreLoads() const;

  StudyDesk& m_desk;
  QLineEdit* m_name;
  QLineEdit* m_question;
  QPlainTextEdit* m_setups;
  QComboBox* m_bench;
  QWidget* m_loadBox;
  std::vector<QCheckBox*> m_loads;
  QLineEdit* m_moreLoads;
  QLabel* m_problem;
  QPushButton* m_make;
  QPushButton* m_cancel;
};

}  // namespace ash
