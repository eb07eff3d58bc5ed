// SPDX-License-Identifier: GPL-3.0-or-later
// Where the time of the processors went: /proc/stat (Documentation/filesystems/proc.rst §1.7).
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "readings/gauges/gauge.h"

namespace ash {

/// USER_HZ: 100 on every architecture that Linux tells it to programs on.
inline constexpr double kTicksPerS = 100;

/// Busy and total time of one line of /proc/stat, in USER_HZ ticks.
struct CpuTicks {
  int cpu = -1;  ///< -1 = the sum of all
  uint64_t busy = 0;
  uint64_t total = 0;
};

/// The "cpu…" lines of /proc/stat. Guest time is inside user time, so it is not added again; iowait counts as idle.
std::vector<CpuTicks> parseCpuTicks(std::string_view text);

/// How busy each CPU was since the sweep before; read once in a sweep, whoever asks.
class CpuTimes {
 public:
  explicit CpuTimes(const std::string& root) : m_file(root + "/proc/stat") {}
  void refresh(const Moment& moment);
  /// Percent of its time since the last value; missing in the first sweep, and for a CPU that is off line.
  double loadPercent(int cpu) const;
  /// The last load that was known, for weights: between two values of a fast log it stays.
  double lastPercent(int cpu) const;
  std::vector<int> cpus() const;
  SysfsFile& file() { return m_file; }

 private:
  struct Row {
    CpuTicks before;
    bool isKnown = false;
    double percent = kMissing;
    double last = kMissing;
  };
  Row& rowOf(int cpu);

  SysfsFile m_file;
  std::vector<Row> m_rows;  // index cpu + 1
  long long m_sweep = 0;
};

class CpuLoadGauge : public Gauge {
 public:
  CpuLoadGauge(std::shared_ptr<CpuTimes> times, int cpu) : m_times(std::move(times)), m_cpu(cpu) {}
  double read(const Moment& moment) override {
    m_times->refresh(moment);
    return m_times->loadPercent(m_cpu);
  }

 private:
  std::shared_ptr<CpuTimes> m_times;
  int m_cpu;
};

}  // namespace ash
