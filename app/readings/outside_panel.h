// SPDX-License-Identifier: GPL-3.0-or-later
// From outside: each instrument as a row, its address, its last 60 answers as ticks, who it says it is, and what is
// wrong.
#pragma once

#include <QWidget>
#include <memory>
#include <optional>
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
  void changeWanted(const QString& name, const std::shared_ptr<const ash::Json>& instrument);
  void dropWanted(const QString& name);
  void calibrateWanted(const QString& name, double fullScaleDb);
  /// It has grown by the sentence, which is to be seen (for the scroll area around).
  void opened();

 private:
  struct Row {
    QWidget* widget;
    QLabel *name, *address, *identity, *state;
    AnswerTicks* ticks;
    QPushButton *change, *drop;
    CalibrateRow* calibrate;
  };
  /// How the last one that was taken out or changed comes back: as it stood in the file, instead of one of that name.
  struct WayBack {
    std::shared_ptr<const Json> before;
    QString insteadOf;  // empty: of none
    QString words;
  };
  Row makeRow();
  void takeOut(const QString& name);
  void beginChange(const QString& name);
  void keep(const std::shared_ptr<const Json>& instrument);
  void putBack();
  void openForm();
  void closeForm();
  const Instrument* shown(const QString& name) const;
  WayBack wayBack(const Instrument& instrument, const QString& insteadOf, const QString& words) const;
  void showRefusal(const QString& why);
  void fill(const Row& row, const InstrumentNow& now) const;

  std::vector<Row> m_rows;
  QVBoxLayout* m_list;
  QLabel *m_empty, *m_refusal;
  QPushButton *m_add, *m_putBack;
  std::vector<InstrumentNow> m_shown;
  std::optional<WayBack> m_back, m_nextBack;  // offered now, and once what was asked for is done
  bool m_isFormKept = false;                  // what was asked for is what the sentence says
  OutsideForm* m_form;
};

}  // namespace ash
