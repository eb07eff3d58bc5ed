// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/linux_machine.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "model/role.h"
#include "readings/kernel/drives.h"
#include "readings/kernel/graphics_cards.h"
#include "readings/kernel/hwmon_chips.h"
#include "readings/kernel/memory_use.h"
#include "readings/kernel/pci_links.h"
#include "readings/kernel/powercap_zones.h"
#include "readings/kernel/processor.h"
#include "readings/kernel/supplies.h"
#include "readings/kernel/thermal_zones.h"
#include "readings/kernel/throttle_counts.h"
#include "readings/kernel/topology.h"
#include "readings/meaning/roles.h"
#include "system/clock.h"
#include "system/patience.h"

namespace ash {
namespace {

constexpr double kPatienceS = 2;
constexpr double kLittlePatienceS = 0.25;  // once several devices have let us wait
constexpr int kManyHung = 3;

std::vector<Finder> allFinders(const std::string& root, std::vector<SkippedReading>& skipped) {
  std::vector<Finder> finders = hwmonFinders(root, skipped);
  for (auto* more : {thermalFinders, powercapFinders, processorFinders, throttleFinders, graphicsFinders, driveFinders,
                     supplyFinders, memoryFinders, pciLinkFinders}) {
    for (Finder& finder : more(root)) finders.push_back(std::move(finder));
  }
  return finders;
}

struct Everything {
  std::vector<std::unique_ptr<GaugeSource>> sources;
  std::vector<SkippedReading> skipped;
};

Everything findAll(const std::string& root) {
  Everything all;
  int hung = 0;
  for (const Finder& finder : allFinders(root, all.skipped)) {
    auto found = within<Found>(hung < kManyHung ? kPatienceS : kLittlePatienceS, finder.find);
    if (!found) {
      ++hung;
      all.skipped.push_back({finder.what, "does not answer: a read of it did not come back"});
      continue;
    }
    for (auto& source : found->sources) all.sources.push_back(std::move(source));
    all.skipped.insert(all.skipped.end(), found->skipped.begin(), found->skipped.end());
  }
  return all;
}

// Two things that tell the same id would be one column.
void makeIdsUnique(const std::vector<Reading*>& readings) {
  std::map<std::string, int> seen;
  for (Reading* reading : readings) {
    if (const int count = ++seen[reading->id]; count > 1) reading->id += fmt::format("#{}", count);
  }
}

bool hasNeedsRights(const std::vector<SkippedReading>& skipped, const char* part) {
  return std::any_of(skipped.begin(), skipped.end(), [&](const SkippedReading& skip) {
    return skip.path.find(part) != std::string::npos && skip.why.starts_with("needs rights");
  });
}

std::vector<std::string> whatIsMissing(const std::string& root, const LinuxMachine& machine) {
  const auto hasAny = [&](auto test) {
    for (const auto& source : machine.sources) {
      for (const Reading& reading : source->info().readings) {
        if (test(reading)) return true;
      }
    }
    return false;
  };
  std::vector<std::string> missing;
  std::error_code error;
  const bool hasHwmon = std::filesystem::is_directory(root + "/sys/class/hwmon", error);
  if (!hasAny([](const Reading& r) { return r.quantity == Quantity::Temperature; })) {
    missing.emplace_back(
        hasHwmon ? "No temperature: no chip in /sys/class/hwmon and no thermal zone gives one (load the driver of the "
                   "board's or the processor's sensor)."
                 : "No temperature: the kernel has no /sys/class/hwmon here, as in most virtual machines.");
  } else if (!hasAny([](const Reading& r) { return r.role == "cpu.temp"; })) {
    missing.emplace_back(
        "No processor temperature: no chip or zone is known to be one; if one of the readings is, say so on the page "
        "Readings.");
  }
  if (!hasAny([](const Reading& r) { return r.role == "cpu.clock"; })) {
    missing.emplace_back("No processor clock: no policy below /sys/devices/system/cpu/cpufreq tells one.");
  }
  if (!hasAny([](const Reading& r) { return r.quantity == Quantity::FanSpeed; })) {
    missing.emplace_back("No fan speed: no chip in /sys/class/hwmon gives one.");
  }
  if (hasNeedsRights(machine.skipped, "powercap")) {
    missing.emplace_back(
        "No processor power: only root may read its energy counter; `ashg readings --rights` tells how to let others.");
  } else if (!hasAny([](const Reading& r) { return r.quantity == Quantity::Power; })) {
    missing.emplace_back("No power: no chip, power zone or battery gives one.");
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

Json machineFacts(const std::string& root) {
  Json facts = Json::object();
  facts["name"] = readWords(root + "/proc/sys/kernel/hostname");
  facts["boot_id"] = bootId(root);
  facts["kernel"] = readWords(root + "/proc/sys/kernel/osrelease");
  const std::pair<const char*, const char*> texts[] = {{"firmware", "/sys/class/dmi/id/bios_version"},
                                                       {"system", "/sys/class/dmi/id/product_name"},
                                                       {"board", "/sys/class/dmi/id/board_name"},
                                                       {"board", "/sys/firmware/devicetree/base/model"}};
  for (const auto& [name, file] : texts) {
    const std::string words = readWords(root + file);
    if (!words.empty() && !facts.contains(name)) facts[name] = words;
  }
  if (const std::string processor = readProcessorName(root); !processor.empty()) facts["processor"] = processor;
  return facts;
}

std::string machineKey(const Json& facts) {
  const std::string board = valueIn(facts, "board", "");
  return valueIn(facts, "name", "") + (board.empty() ? "" : " / " + board);
}

LinuxMachine openLinuxMachine(const std::string& root, const ReadingChoices& choices) {
  LinuxMachine machine;
  Everything all = findAll(root);
  machine.skipped = std::move(all.skipped);
  std::vector<Reading*> readings;
  for (const auto& source : all.sources) {
    for (Reading& reading : source->readings()) readings.push_back(&reading);
  }
  makeIdsUnique(readings);
  assignRoles(readings, choices);
  tellDevicesApart(readings);
  for (auto& source : all.sources) {
    source->keepOnly([&](const Reading& reading) {
      const auto choice = choices.find(reading.id);
      const bool isHidden = choice != choices.end() && choice->second.isHidden;
      if (isHidden) machine.hidden.push_back(reading);
      return !isHidden;
    });
    if (!source->info().readings.empty()) machine.sources.push_back(std::move(source));
  }
  machine.missing = whatIsMissing(root, machine);
  machine.facts = machineFacts(root);
  return machine;
}

Sweep sweepPatiently(const std::shared_ptr<Source>& source) {
  auto sweep = within<Sweep>(kPatienceS, [source] { return source->sweep(); });
  if (sweep) return std::move(*sweep);
  return {bootTimeS(), std::vector<double>(source->info().readings.size(), kMissing)};
}

}  // namespace ash
