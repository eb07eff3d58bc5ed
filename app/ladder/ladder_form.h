// SPDX-License-Identifier: GPL-3.0-or-later
// What a new ladder is to find: a ready question, and what of it is to be otherwise.
#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace ash {

struct LadderQuestion;

namespace look {
class Segments;
}

class LadderForm : public QWidget {
  Q_OBJECT
 public:
  explicit LadderForm(QWidget* parent);
  void setPlace(const QString& setup, const QString& load);
  void setRunning(bool isRunning);
  void setProblem(const QString& sentence);

 signals:
  /// Arguments of `ashg ladder`, without book, study and bench.
  void climbWanted(const QStringList& arguments);

 private:
  QLineEdit* addField(QGridLayout* grid, int row, int column, const QString& name, const char* objectName,
                      const QString& tip);
  const LadderQuestion& question() const;
  void questionChanged();
  void check();
  QStringList arguments() const;

  QString m_setup, m_load;
  QString m_told;  // by who climbs; what is wrong in the fields goes before it
  bool m_isRunning = false;
  QComboBox* m_question;
  QLabel* m_place;
  QLabel* m_wantedLabel;
  QLineEdit* m_wanted;
  QLineEdit* m_knob;
  QLineEdit* m_from;
  QLineEdit* m_to;
  QLineEdit* m_step;
  QLineEdit* m_until;
  QLineEdit* m_rest;
  QLineEdit* m_hold;
  QLineEdit* m_confirm;
  look::Segments* m_search;
  QPushButton* m_climb;
  QLabel* m_problem;
};

}  // namespace ash
