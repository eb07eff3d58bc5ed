// SPDX-License-Identifier: GPL-3.0-or-later
// A microphone is tied to what a sound level meter beside it shows: one typed level.
#pragma once

#include <QWidget>
#include <deque>

#include "machine/machine_snapshot.h"

class QLabel;
class QLineEdit;
class QPushButton;

namespace ash {

class CalibrateRow : public QWidget {
  Q_OBJECT
 public:
  explicit CalibrateRow(QWidget* parent);
  /// Takes what it tells now; the last ten levels are what a calibration is made from. Shown for microphones only.
  void show(const InstrumentNow& now);

 signals:
  void wanted(const QString& name, double fullScaleDb);

 private:
  void judge();
  void calibrate();

  QLineEdit* m_shown;
  QPushButton* m_button;
  QLabel* m_words;
  Instrument m_instrument;
  std::deque<double> m_levels;
  double m_lastS = 0;
};

}  // namespace ash
