// SPDX-License-Identifier: GPL-3.0-or-later
// The card of a pause: what a person shall do, how long it has waited, and Done.
#pragma once

#include <QFrame>

class QLabel;
class QLineEdit;

namespace ash {

class LiveModel;

class PauseCard : public QFrame {
  Q_OBJECT
 public:
  /// Shows itself while the run that is followed waits for a person.
  PauseCard(const LiveModel& model, QWidget* parent);

 signals:
  /// It is done; what was found, a reading or a note, may be empty.
  void answered(const QString& words);

 private:
  void refresh();

  const LiveModel& m_model;
  QLabel* m_words;
  QLabel* m_waited;
  QLineEdit* m_found;
  size_t m_phase = SIZE_MAX;  // the pause that is shown
};

}  // namespace ash
