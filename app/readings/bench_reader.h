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

 signals:
  void seen(const std::shared_ptr<const ash::MachineSnapshot>& readings);

 private:
  void take();
  void tell();

  MachineSources m_machine;
  bool m_isOpen = false;
  bool m_keepsOn = false;
  MachineDescription m_description;  // as it is opened first
  double m_toldS = 0;
  QTimer* m_timer = nullptr;
};

}  // namespace ash
