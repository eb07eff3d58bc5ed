// SPDX-License-Identifier: GPL-3.0-or-later
// Reads this machine twice a second from a thread of its own, as long as somebody looks.
#pragma once

#include <QObject>
#include <QString>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "model/reading_choice.h"
#include "readings/linux_machine.h"
#include "runner/readiness.h"
#include "runner/sampler.h"

class QTimer;

namespace ash {

/// One reading as it is now.
struct ReadingNow {
  Reading reading;
  double value = kMissing;
  double low = kMissing, high = kMissing;  ///< seen since the page was opened
  double ageS = kMissing;                  ///< since it last answered; missing = never
  double stillS = 0;                       ///< for how long it has had the same value
  std::string fault;                       ///< why it is missing now
  bool isHidden = false;                   ///< not shown, because a person said so
};

struct BenchReadings {
  std::string machine;
  std::string machineKey;  ///< by what a book knows it again
  double timeS = 0;        ///< CLOCK_BOOTTIME
  std::vector<ReadingNow> readings;
  std::vector<SkippedReading> skipped;
  std::vector<std::string> missing;  ///< what was looked for and is not there
  ReadingChoices choices;            ///< what has been said of them
};

/// What readiness asks of a look at the machine.
MachineNow machineNow(const BenchReadings& readings);

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
  void seen(const std::shared_ptr<const ash::BenchReadings>& readings);

 private:
  void open();
  void takeSweep(int source, const Sweep& sweep);
  void take();
  void tell();

  std::string m_root;
  LinuxMachine m_machine;
  std::optional<Sampler> m_sampler;
  ReadingChoices m_choices;
  bool m_isOpen = false;
  bool m_keepsOn = false;
  std::map<std::string, ReadingNow> m_seen;
  std::map<std::string, double> m_answeredS, m_changedS;
  double m_toldS = 0;
  QTimer* m_timer = nullptr;
};

}  // namespace ash
