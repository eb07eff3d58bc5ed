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
#include "system/descriptors.h"
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
  std::vector<std::string> hung;
};

Everything findAll(const std::string& root, const std::vector<std::string>& known) {
  Everything all;
  int hung = 0;
  for (const Finder& finder : allFinders(root, all.skipped)) {
    const bool isKnown = std::find(known.begin(), known.end(), finder.what) != known.end();
    auto found = isKnown ? std::nullopt : within<Found>(hung < kManyHung ? kPatienceS : kLittlePatienceS, finder.find);
    if (!found) {
      hung += !isKnown;
      all.hung.push_back(finder.what);
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
  } else if (!hasAny([](const Reading& r) { return r.role == roles::kCpuTemp; })) {
    missing.emplace_back(
        "No processor temperature: no chip or zone is known to be one; if one of the readings is, say so on the page "
        "Readings.");
  }
  if (!hasAny([](const Reading& r) { return r.role == roles::kCpuClock; })) {
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
  if (!hasAny([](const Reading& r) { return r.role.isRoom(); })) {
    missing.emplace_back(kNoRoomIsRead);
  }
  return missing;
}

// Readings whose file cannot be opened would be missing without a word.
std::string fewDescriptors(const LinuxMachine& machine) {
  constexpr size_t kForTheRest = 64;  // book, socket, pipes
  size_t files = 0;
  for (const auto& source : machine.sources) files += source->fileCount();
  const size_t limit = descriptorLimit();
  if (files + kForTheRest <= limit) return {};
  return fmt::format(
      "Too few files may be open here: the readings need {}, the limit is {}, so some will be missing; raise it "
      "(ulimit -n {}) or hide readings.",
      files + kForTheRest, limit, 2 * (files + kForTheRest));
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

bool hasDanger(const Reading& reading) {
  const bool isTemperature = reading.role.isLoadedTemperature() || reading.ruleRole.isLoadedTemperature();
  return isTemperature && reading.limits.contains("critical");
}

LinuxMachine openLinuxMachine(const std::string& root, const ReadingChoices& choices,
                              const std::vector<std::string>& hung, const std::set<std::string>& toldElsewhere) {
  LinuxMachine machine;
  Everything all = findAll(root, hung);
  machine.hung = all.hung;
  machine.skipped = std::move(all.skipped);
  std::vector<Reading*> readings;
  for (const auto& source : all.sources) {
    for (Reading& reading : source->readings()) readings.push_back(&reading);
  }
  makeIdsUnique(readings);
  assignRoles(readings, choices);
  giveWay(readings, toldElsewhere);
  tellDevicesApart(readings);
  for (Reading* reading : readings) {
    reading->isHidden = hides(choices, reading->id);
    if (!reading->isHidden) continue;
    machine.hidden.push_back(*reading);
    reading->role = Role();
  }
  for (auto& source : all.sources) {
    // Hiding is for the eye: what has a limit of danger is watched all the same.
    source->keepOnly([](const Reading& reading) { return !reading.isHidden || hasDanger(reading); });
    if (!source->info().readings.empty()) machine.sources.push_back(std::move(source));
  }
  machine.missing = whatIsMissing(root, machine);
  if (const std::string few = fewDescriptors(machine); !few.empty())
    machine.missing.insert(machine.missing.begin(), few);
  machine.facts = machineFacts(root);
  return machine;
}

Sweep sweepPatiently(const std::shared_ptr<Source>& source) {
  auto sweep = within<Sweep>(kPatienceS, [source] { return source->sweep(); });
  if (sweep) return std::move(*sweep);
  return {bootTimeS(), std::vector<double>(source->info().readings.size(), kMissing)};
}

}  // namespace ash
