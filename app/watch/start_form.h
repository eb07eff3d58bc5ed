// SPDX-License-Identifier: GPL-3.0-or-later
// The small form that starts a run: study, setup, where, load, phases.
#pragma once

#include <QWidget>
#include <vector>

#include "app/study/start_request.h"
#include "model/study.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace ash {

class StartForm : public QWidget {
  Q_OBJECT
 public:
  explicit StartForm(QWidget* parent);

  void setStudies(const std::vector<Study>& studies);
  StartRequest request() const;
  /// Told below the button; empty clears it.
  void setProblem(const QString& sentence);
  void setStarting(bool isStarting);

 signals:
  void startPressed();

 private:
  void buildFields();
  void benchChanged();
  void studyChanged();
  void check();
  void addField(const QString& label, QWidget* field, const QString& tip);

  QComboBox* m_study;
  QComboBox* m_setup;
  QComboBox* m_bench;
  QComboBox* m_load;
  QLineEdit* m_phases;
  QDoubleSpinBox* m_speed;
  QLineEdit* m_room;
  QLabel* m_speedLabel = nullptr;
  QLabel* m_roomLabel = nullptr;
  QLabel* m_words;
  QLabel* m_missing = nullptr;
  QLabel* m_problem;
  QPushButton* m_start;
  std::vector<Study> m_studies;
  bool m_isStarting = false;
};

}  // namespace ash
