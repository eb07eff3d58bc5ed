// SPDX-License-Identifier: GPL-3.0-or-later
// An instrument said in a sentence with gaps, a new one or one that is there; tried while it is typed, and kept when it
// has answered or the person says so.
#pragma once

#include <QWidget>
#include <memory>
#include <vector>

#include "machine/machine_snapshot.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTimer;

namespace ash {

class OutsideForm : public QWidget {
  Q_OBJECT
 public:
  explicit OutsideForm(QWidget* parent);
  /// What came of trying what stands there.
  void showTried(const std::shared_ptr<const InstrumentNow>& now, const QString& refusal);
  /// Fills the gaps with one that is there, to be changed: what the sentence has no gap for stays as it is.
  void change(const Instrument& instrument);
  /// Empties the gaps for a new one.
  void clear();
  /// The name of the one that is being changed; empty for a new one.
  const QString& changed() const { return m_changed; }
  void focusFirst();

 signals:
  void tryWanted(const std::shared_ptr<const ash::Json>& instrument);
  void keepWanted(const std::shared_ptr<const ash::Json>& instrument);
  void closed();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  InstrumentKind kind() const;
  Json written() const;
  bool isWhole() const;
  void fillSentence();
  void fillReading();
  void chooseReading(int index);
  void gapsChanged();
  QString keepWords() const;
  void tryIt();
  void keepIt();

  QComboBox *m_kind, *m_which, *m_role;
  QLineEdit *m_address, *m_asked, *m_accuracy, *m_name;
  QDoubleSpinBox* m_interval;
  QLabel *m_with, *m_result;
  QPushButton *m_try, *m_keep;
  QTimer* m_wait;
  Json m_tried;  // what was asked last
  QString m_changed;
  Json m_stood = Json::object();  // the one that is being changed, with what has been said of its readings so far
  std::vector<InstrumentReading> m_readings;
  double m_shownIntervalS = 0;  // the gap has two decimals, the file may have more
  int m_reading = 0;            // which of its readings the sentence is about
  bool m_hasAnswered = false;
};

}  // namespace ash
