// SPDX-License-Identifier: GPL-3.0-or-later
// The processor's caches, from the kernel's description of CPU 0 (Documentation/ABI/testing/sysfs-devices-system-cpu,
// "cache/index<N>").
#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace ash {

struct CacheLevel {
  int level = 0;
  size_t bytes = 0;
  int sharedBy = 1;  ///< CPUs
};

/// Data and unified caches, nearest first; empty where the kernel tells nothing. `root` as for readings.
std::vector<CacheLevel> cacheLevels(const std::string& root = "");

/// Memory the kernel would give without swapping (MemAvailable of proc(5)); 0 when unknown.
size_t availableMemoryBytes();

}  // namespace ash
