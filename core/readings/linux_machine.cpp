// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/linux_machine.h"

#include <filesystem>

#include "model/role.h"
#include "readings/cpu_source.h"
#include "readings/hwmon_source.h"
#include "readings/roles.h"

namespace ash {
namespace {

Json machineFacts(const std::string& root) {
  Json facts = Json::object();
  facts["name"] = readSmallFile(root + "/proc/sys/kernel/hostname").value_or("");
  facts["boot_id"] = bootId(root);
  facts["kernel"] = readSmallFile(root + "/proc/sys/kernel/osrelease").value_or("");
  const auto firmware = readSmallFile(root + "/sys/class/dmi/id/bios_version");
  if (firmware && !firmware->empty()) facts["firmware"] = *firmware;
  return facts;
}

std::vector<std::string> whatIsMissing(const std::string& root, const std::vector<Reading*>& readings) {
  const auto hasAny = [&](auto test) {
    for (const Reading* reading : readings) {
      if (test(*reading)) return true;
    }
    return false;
  };
  std::vector<std::string> missing;
  std::error_code error;
  const bool hasHwmon = std::filesystem::is_directory(root + "/sys/class/hwmon", error);
  if (!hasAny([](const Reading& r) { return r.quantity == Quantity::Temperature; })) {
    missing.emplace_back(
        hasHwmon ? "No temperature: none of the chips in /sys/class/hwmon gives one (load the driver of the "
                   "board's or the processor's sensor)."
                 : "No temperature: the kernel has no /sys/class/hwmon here, as in most virtual machines.");
  } else if (!hasAny([](const Reading& r) { return r.role == "cpu.temp"; })) {
    missing.emplace_back("No processor temperature: no chip of a known processor driver is in /sys/class/hwmon.");
  }
  if (!hasAny([](const Reading& r) { return r.role == "cpu.clock"; })) {
    missing.emplace_back("No processor clock: no policy below /sys/devices/system/cpu/cpufreq tells one.");
  }
  if (!hasAny([](const Reading& r) { return r.quantity == Quantity::FanSpeed; })) {
    missing.emplace_back("No fan speed: no chip in /sys/class/hwmon gives one.");
  }
  if (!hasAny([](const Reading& r) { return r.quantity == Quantity::Power; })) {
    missing.emplace_back("No power: no chip in /sys/class/hwmon gives one.");
  }
  if (!hasAny([](const Reading& r) { return isRoomRole(r.role); })) {
    missing.emplace_back("No room temperature: type it in, or figures over room cannot be given.");
  }
  return missing;
}

}  // namespace

std::string bootId(const std::string& root) {
  return readSmallFile(root + "/proc/sys/kernel/random/boot_id").value_or("");
}

LinuxMachine openLinuxMachine(const std::string& root) {
  LinuxMachine machine;
  std::vector<Reading*> readings;
  for (auto& source : findHwmonSources(root, machine.skipped)) {
    for (Reading& reading : source->mutableInfo().readings) readings.push_back(&reading);
    machine.sources.push_back(std::move(source));
  }
  assignRoles(readings);
  std::vector<Reading> ofProcessor;
  if (auto processor = CpuSource::open(root, machine.skipped)) {
    ofProcessor = processor->info().readings;
    machine.sources.push_back(std::move(processor));
  }
  for (Reading& reading : ofProcessor) readings.push_back(&reading);
  machine.missing = whatIsMissing(root, readings);
  machine.facts = machineFacts(root);
  return machine;
}

}  // namespace ash
