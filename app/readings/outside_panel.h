// SPDX-License-Identifier: GPL-3.0-or-later
// From outside: each instrument as a row, its address, its last 60 answers as ticks, who it says it is, and what is
// wrong.
#pragma once

#include <QWidget>
#include <memory>
#include <vector>

#include "machine/machine_snapshot.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace ash {

class CalibrateRow;
class OutsideForm;

/// A tick for each of the last 60 rounds: tall = answered, short = late, gap = none.
class AnswerTicks : public QWidget {
  Q_OBJECT
 public:
  explicit AnswerTicks(QWidget* parent);
  void show(const std::vector<InstrumentState::Tick>& ticks);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<InstrumentState::Tick> m_ticks;
};

class OutsidePanel : public QWidget {
  Q_OBJECT
 public:
  explicit OutsidePanel(QWidget* parent);
  void show(const MachineSnapshot& now);
  void showTried(const std::shared_ptr<const InstrumentNow>& now, const QString& refusal);
  /// What was to be kept or taken out is; or why it is not.
  void takeChange(const QString& refusal);

 signals:
  void tryWanted(const std::shared_ptr<const ash::Json>& instrument);
  void keepWanted(const std::shared_ptr<const ash::Json>& instrument);
  void dropWanted(const QString& name);
  void calibrateWanted(const QString& name, double fullScaleDb);
  /// It has grown by the sentence, which is to be seen (for the scroll area around).
  void opened();

 private:
  struct Row {
    QWidget* widget;
    QLabel *name, *address, *identity, *state;
    AnswerTicks* ticks;
    QPushButton* drop;
    CalibrateRow* calibrate;
  };
  Row makeRow();
  void takeOut(const QString& name);
  void showRefusal(const QString& why);
  void fill(const Row& row, const InstrumentNow& now) const;

  std::vector<Row> m_rows;
  QVBoxLayout* m_list;
  QLabel *m_empty, *m_refusal;
  QPushButton *m_add, *m_putBack;
  std::vector<InstrumentNow> m_shown;
  std::shared_ptr<const Json> m_takenOut;  // the last one, as it stood in the file
  OutsideForm* m_form;
};

}  // namespace ash
