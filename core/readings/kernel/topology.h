// SPDX-License-Identifier: GPL-3.0-or-later
// How the processors are built: packages, cores, and clusters of cores of one kind.
// Documentation/admin-guide/cputopology.rst, Documentation/ABI/testing/sysfs-devices-system-cpu.
#pragma once

#include <string>
#include <vector>

namespace ash {

/// One logical CPU that is on line.
struct LogicalCpu {
  int cpu = 0;
  int package = 0;
  int die = 0;
  int core = 0;      ///< unique only within its package and die
  std::string kind;  ///< equal for cores of one kind; empty where nothing tells
};

/// All CPUs that are on line, by number. Empty when the tree tells none.
std::vector<LogicalCpu> readTopology(const std::string& root);

/// Cores of one kind in one package.
struct Cluster {
  int package = 0;
  std::vector<int> cpus;
};

/// The clusters in the order of their first CPU; a processor whose cores are all alike is one. The kind is told by
/// cpu_capacity, else by the kernel's lists of core kinds (devices/cpu_core, cpu_atom), else by base_frequency, else by
/// highest clocks that lie more than a tenth apart.
std::vector<Cluster> readClusters(const std::string& root);

/// The processor's name ("model name" of /proc/cpuinfo), empty where there is none.
std::string readProcessorName(const std::string& root);

}  // namespace ash
