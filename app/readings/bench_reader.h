// SPDX-License-Identifier: GPL-3.0-or-later
// Reads this machine once a second from a thread of its own, as long as somebody looks.
#pragma once

#include <QObject>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "model/reading.h"
#include "readings/linux_machine.h"

class QTimer;

namespace ash {

/// One reading as it is now.
struct ReadingNow {
  Reading reading;
  std::string device;
  double value = kMissing;
  double low = kMissing, high = kMissing;  ///< seen since the page was opened
  double ageS = 0;                         ///< since it last answered
};

struct BenchReadings {
  std::string machine;
  std::vector<ReadingNow> readings;
  std::vector<SkippedReading> skipped;
  std::vector<std::string> missing;  ///< what was looked for and is not there
};

class BenchReader : public QObject {
  Q_OBJECT
 public:
  BenchReader();
  ~BenchReader() override;

 public slots:
  /// Looks once; with `keepsOn` every second from then on.
  void look(bool keepsOn);
  void rest();

 signals:
  void seen(const std::shared_ptr<const ash::BenchReadings>& readings);

 private:
  void sweep();

  LinuxMachine m_machine;
  bool m_isOpen = false;
  std::map<std::string, ReadingNow> m_seen;
  std::map<std::string, double> m_answeredS;
  QTimer* m_timer = nullptr;
};

}  // namespace ash
