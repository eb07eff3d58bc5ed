// SPDX-License-Identifier: GPL-3.0-or-later
// What is expected of the selected setup, and what others claim of it: said in a line, dated, taken back by Del.
#pragma once

#include <QHash>
#include <QWidget>
#include <vector>

class QLabel;
class QLineEdit;
class QListWidget;

namespace ash {

class StudyDesk;

class StatedPanel : public QWidget {
  Q_OBJECT
 public:
  StatedPanel(StudyDesk& desk, QWidget* parent);
  /// Of the setup at this place of the study.
  void show(int setup);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void take();
  void takeBackSelected();
  QString setupName() const;

  StudyDesk& m_desk;
  int m_setup = 0;
  QString m_shown;                  // its name
  QHash<QString, QString> m_typed;  // by setup: not yet said
  std::vector<size_t> m_places;     // of the rows, in the plan's list
  QListWidget* m_list;
  QLineEdit* m_line;
  QLabel* m_problem;
};

}  // namespace ash
