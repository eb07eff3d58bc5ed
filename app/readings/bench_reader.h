// SPDX-License-Identifier: GPL-3.0-or-later
// Reads this machine twice a second from a thread of its own, as long as somebody looks.
#pragma once

#include <QObject>
#include <QString>
#include <memory>

#include "machine/machine_sources.h"

class QTimer;

namespace ash {

class BenchReader : public QObject {
  Q_OBJECT
 public:
  /// `root` is empty for this machine, else a tree that looks like one.
  explicit BenchReader(const QString& root = {});
  ~BenchReader() override;

 public slots:
  /// Looks once; with `keepsOn` twice a second from then on.
  void look(bool keepsOn);
  void rest();
  /// What the book knows of this machine's readings: the machine is opened anew with it.
  void setChoices(const std::shared_ptr<const ash::ReadingChoices>& choices);
  /// Asks an instrument as it stands in a file, without keeping it; what comes of it is told by tried().
  void tryInstrument(const std::shared_ptr<const ash::Json>& instrument);
  /// Keeps it in the person's own file, takes the one of that name out, or ties it to a level; the machine is opened
  /// anew.
  void keepInstrument(const std::shared_ptr<const ash::Json>& instrument);
  void changeInstrument(const QString& name, const std::shared_ptr<const ash::Json>& instrument);
  void dropInstrument(const QString& name);
  void calibrateInstrument(const QString& name, double fullScaleDb);

 signals:
  void seen(const std::shared_ptr<const ash::MachineSnapshot>& readings);
  /// How the instrument that is tried answers by now; or why it cannot even be asked.
  void tried(const std::shared_ptr<const ash::InstrumentNow>& now, const QString& refusal);
  /// What was to be kept or taken out is; or why it is not.
  void instrumentsChanged(const QString& refusal);

 private:
  void take();
  void tell();
  void readOwnInstruments();
  void openAgain();
  void tellTrial();

  MachineSources m_machine;
  bool m_isOpen = false;
  bool m_keepsOn = false;
  MachineDescription m_description;  // as it is opened first
  std::string m_instrumentsFault;
  double m_toldS = 0;
  QTimer* m_timer = nullptr;
  QTimer* m_trialTimer = nullptr;
  std::unique_ptr<InstrumentSource> m_trial;
  int m_trialLooks = 0;
};

}  // namespace ash
