// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/watch/throttle_counters.h"

#include <algorithm>
#include <filesystem>
#include <map>
#include <utility>

#include "readings/gauges/sysfs_file.h"

namespace ash {
namespace fs = std::filesystem;
namespace {
std::optional<long long> readCount(const fs::path& file) {
  SysfsFile number(file.string());
  return number.readInteger(0);
}
}  // namespace

std::optional<ThrottleCounts> readThrottleCounts(const std::string& root) {
  std::map<std::pair<long long, long long>, long long> cores;
  std::map<long long, long long> packages;
  std::error_code error;
  for (const fs::directory_entry& cpu : fs::directory_iterator(root + "/sys/devices/system/cpu", error)) {
    const fs::path folder = cpu.path() / "thermal_throttle";
    const auto ofCore = readCount(folder / "core_throttle_count");
    const auto ofPackage = readCount(folder / "package_throttle_count");
    if (!ofCore && !ofPackage) continue;
    const long long package = readCount(cpu.path() / "topology/physical_package_id").value_or(0);
    const long long core = readCount(cpu.path() / "topology/core_id")
                               .value_or(parseKernelInteger(cpu.path().filename().string().substr(3)).value_or(0));
    long long& coreCount = cores[{package, core}];
    coreCount = std::max(coreCount, ofCore.value_or(0));
    packages[package] = std::max(packages[package], ofPackage.value_or(0));
  }
  if (cores.empty()) return std::nullopt;
  ThrottleCounts counts;
  for (const auto& [core, count] : cores) counts.ofCores += count;
  for (const auto& [package, count] : packages) counts.ofPackages += count;
  return counts;
}

}  // namespace ash
