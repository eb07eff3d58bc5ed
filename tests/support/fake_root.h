// SPDX-License-Identifier: GPL-3.0-or-later
// A tree that looks like the root of a Linux system, made piece by piece.
#pragma once

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

#include "readings/linux_machine.h"
#include "tests/support/temp_folder.h"

namespace ash::tests {

using Files = std::vector<std::pair<std::string, std::string>>;

class FakeRoot : public TempFolder {
 public:
  /// A hwmon chip at a place below sys/devices; attribute() then writes into it.
  void chip(int number, const std::string& place, const std::string& driver) {
    m_chip = "sys/devices/" + place + "/hwmon/hwmon" + std::to_string(number);
    write(m_chip + "/name", driver + "\n");
    link("sys/class/hwmon/hwmon" + std::to_string(number), m_chip);
    link(m_chip + "/device", "sys/devices/" + place);
  }
  void attribute(const std::string& name, const std::string& text) { write(m_chip + "/" + name, text); }
  std::string chipPath(const std::string& name) const { return path(m_chip + "/" + name); }

  /// Files of one folder; a line end is added to each text.
  void files(const std::string& folder, const Files& all) {
    for (const auto& [name, text] : all) write(folder + "/" + name, text + "\n");
  }
  /// A link to a place of the tree, both named from its root.
  void link(const std::string& from, const std::string& to) {
    std::filesystem::create_directories(std::filesystem::path(path(from)).parent_path());
    std::filesystem::create_directory_symlink(path(to), path(from));
  }
  void zone(int number, const std::string& type, const std::string& milli, const Files& more = {}) {
    const std::string folder = "sys/devices/virtual/thermal/thermal_zone" + std::to_string(number);
    files(folder, {{"type", type}, {"temp", milli}});
    files(folder, more);
    link("sys/class/thermal/thermal_zone" + std::to_string(number), folder);
  }
  void powerZone(const std::string& name, const std::string& place, const Files& all) {
    files("sys/devices/virtual/powercap/" + place, all);
    write("sys/devices/virtual/powercap/" + place + "/name", name + "\n");
    link("sys/class/powercap/" + std::filesystem::path(place).filename().string(),
         "sys/devices/virtual/powercap/" + place);
  }
  void cpu(int number, int package, int core, const std::string& maxKhz, const Files& more = {}) {
    const std::string folder = "sys/devices/system/cpu/";
    const std::string id = std::to_string(number);
    files(folder + "cpu" + id + "/topology",
          {{"physical_package_id", std::to_string(package)}, {"core_id", std::to_string(core)}});
    files(folder + "cpufreq/policy" + id,
          {{"scaling_cur_freq", maxKhz}, {"cpuinfo_max_freq", maxKhz}, {"affected_cpus", id}});
    files(folder + "cpufreq/policy" + id, more);
    link(folder + "cpu" + id + "/cpufreq", folder + "cpufreq/policy" + id);
  }

 private:
  std::string m_chip;
};

struct FoundReading {
  const Reading* reading = nullptr;
  double value = kMissing;
  std::string why;  ///< why it is missing
};

/// Looks a reading up by role, name, id or path, after a sweep of its source.
inline FoundReading find(const LinuxMachine& machine, const std::string& what) {
  for (const auto& source : machine.sources) {
    for (size_t i = 0; i < source->info().readings.size(); ++i) {
      const Reading& reading = source->info().readings[i];
      if (reading.role != what && reading.name != what && reading.id != what && reading.path != what) continue;
      const Sweep sweep = source->sweep();
      return {&reading, sweep.values[i], source->whyMissing(i)};
    }
  }
  return {};
}

inline std::string whySkipped(const LinuxMachine& machine, const std::string& file) {
  for (const SkippedReading& skipped : machine.skipped) {
    if (skipped.path.ends_with(file)) return skipped.why;
  }
  return "not skipped";
}

}  // namespace ash::tests
