// SPDX-License-Identifier: GPL-3.0-or-later
// One more instrument, said in a sentence with gaps; tried while it is typed, and kept when it has answered or the
// person says so.
#pragma once

#include <QWidget>
#include <memory>

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
  /// Empties the gaps, after it was kept.
  void clear();
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
  void changed();
  void tryIt();
  void keepIt();

  QComboBox *m_kind, *m_role;
  QLineEdit *m_address, *m_asked, *m_accuracy, *m_name;
  QDoubleSpinBox* m_interval;
  QLabel *m_with, *m_result;
  QPushButton *m_try, *m_keep;
  QTimer* m_wait;
  Json m_tried;  // what was asked last
  bool m_hasAnswered = false;
};

}  // namespace ash
