// SPDX-License-Identifier: GPL-3.0-or-later
// A source made of gauges: one chip, one card, one drive, the processor.
#pragma once

#include <atomic>
#include <functional>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "readings/gauges/gauge.h"
#include "readings/gauges/source.h"

namespace ash {

/// Readings and the gauges behind them. A device that vanishes and comes back under another number is the same source:
/// its values are missing meanwhile. A device that sleeps is not woken: its values are missing, too.
class GaugeSource : public Source {
 public:
  explicit GaugeSource(std::string id) { m_info.id = std::move(id); }

  /// Adds a reading with its gauge; returns its place for computed gauges that come after it.
  size_t add(Reading reading, std::unique_ptr<Gauge> gauge);
  /// A computed reading from others of this source.
  size_t compute(Reading reading, ComputedGauge::Compute compute);

  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;
  std::string whyMissing(size_t reading) const override;
  bool isGone() const override { return m_isGone; }
  size_t fileCount() const override;

  /// All readings, those that are not logged as well; their roles and limits are given after all sources are known.
  std::vector<Reading>& readings() { return m_all; }
  /// Which of them are told and recorded; all unless set. Call before the first sweep.
  void keepOnly(const std::function<bool(const Reading&)>& isKept);
  bool isEmpty() const { return m_all.empty(); }

  void setPaceS(double paceS) { m_info.paceS = paceS; }
  /// The file that tells whether the device sleeps (power/runtime_status,
  /// Documentation/ABI/testing/sysfs-devices-power).
  void setSleepFile(const std::string& path) { m_sleepFile = std::make_unique<SysfsFile>(path); }
  /// Where the device's numbered folder stands ("…/hwmon/hwmon3") and how it is told from others that stand beside it.
  void setHome(std::string folder, std::string firstFile);

 private:
  bool isAsleep(double nowS);
  void lookAgain(double nowS);

  SourceInfo m_info;  // what is told: the kept readings
  std::vector<Reading> m_all;
  std::vector<std::unique_ptr<Gauge>> m_gauges;
  std::vector<size_t> m_kept;  // places of the told readings; empty = all
  bool m_keepsSome = false;
  std::vector<double> m_values;
  std::unique_ptr<SysfsFile> m_sleepFile;
  std::string m_home, m_firstFile;
  double m_lookedS = 0;
  long long m_sweeps = 0;
  bool m_sleeps = false;
  std::atomic<bool> m_isGone{false};
};

}  // namespace ash
