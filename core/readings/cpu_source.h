// SPDX-License-Identifier: GPL-3.0-or-later
// The processor: clocks of /sys/devices/system/cpu/cpufreq, loads of /proc/stat, and the mean clock of the loaded
// cores.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "readings/source.h"
#include "readings/sysfs_file.h"

namespace ash {

/// Busy and total time of one line of /proc/stat, in USER_HZ ticks.
struct CpuTicks {
  int cpu = -1;  ///< -1 = the sum of all
  uint64_t busy = 0;
  uint64_t total = 0;
};

/// The "cpu…" lines of /proc/stat. Guest time is inside user time, so it is not added again; iowait counts as idle.
/// Source: Documentation/filesystems/proc.rst §1.7.
std::vector<CpuTicks> parseCpuTicks(const std::string& text);

class CpuSource : public Source {
 public:
  /// Empty when neither clocks nor loads can be read below `root`.
  static std::unique_ptr<CpuSource> open(const std::string& root, std::vector<SkippedReading>& skipped);
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;

 private:
  struct Policy {
    SysfsFile file;
    std::vector<int> cpus;
  };
  explicit CpuSource(const std::string& root) : m_stat(root + "/proc/stat") {}
  void findPolicies(const std::string& root, std::vector<SkippedReading>& skipped);
  void addLoads(const std::string& root);
  std::vector<double> readLoads(double nowS);

  SourceInfo m_info;  // policies, then cpu.clock where there are any, then the loads
  std::vector<Policy> m_policies;
  SysfsFile m_stat;
  std::vector<int> m_loadCpus;  // -1 first
  std::vector<CpuTicks> m_before;
};

}  // namespace ash
