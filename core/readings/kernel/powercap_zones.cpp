// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/powercap_zones.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <set>
#include <string_view>

#include "readings/gauges/root_path.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr std::string_view kLongTerm = "long_term";

// More than any processor draws: with it, 65 kJ of range are a wrap at most every 43 s.
constexpr double kMostZoneW = 1500;

struct Zone {
  fs::path folder;
  std::string folderName;  // "intel-rapl:0:1"
  std::string name;        // "package-0"
  std::string chain;       // "package-0/core": zones are numbered in the order of probing, their names are not
};

std::string chainOf(const fs::path& folder) {
  const std::string name = readWords(folder / "name");
  std::error_code error;
  const bool hasParent = fs::exists(folder.parent_path() / "energy_uj", error);
  return hasParent ? chainOf(folder.parent_path()) + "/" + name : name;
}

// Zones are links of the class, or folders below one another where the class has no link to them.
void collect(const fs::path& folder, int depth, std::vector<Zone>& zones, std::set<fs::path>& seen) {
  std::error_code error;
  const fs::path here = fs::canonical(folder, error);
  if (error || depth > 4) return;
  const bool isZone = fs::exists(here / "energy_uj", error) || fs::exists(here / "power_uw", error);
  if (isZone && seen.insert(here).second) {
    const std::string folderName = here.filename().string();
    std::string chain = chainOf(here);
    if (folderName.find("-mmio") != std::string::npos) chain += "/mmio";
    zones.push_back({here, folderName, readWords(here / "name"), chain});
  }
  std::vector<fs::path> below;
  for (fs::directory_iterator it(here, error), end; !error && it != end; it.increment(error)) {
    std::error_code ignored;
    if (it->path().filename().string().find(':') != std::string::npos && it->is_directory(ignored) &&
        !it->is_symlink(ignored))
      below.push_back(it->path());
  }
  std::sort(below.begin(), below.end());
  for (const fs::path& child : below) collect(child, depth + 1, zones, seen);
}

std::vector<Zone> listZones(const std::string& root) {
  std::vector<fs::path> entries;
  std::error_code error;
  for (fs::directory_iterator it(root + "/sys/class/powercap", error), end; !error && it != end; it.increment(error))
    entries.push_back(it->path());
  std::sort(entries.begin(), entries.end());
  std::vector<Zone> zones;
  std::set<fs::path> seen;
  for (const fs::path& entry : entries) collect(entry, 0, zones, seen);
  std::sort(zones.begin(), zones.end(), [](const Zone& a, const Zone& b) { return a.folder < b.folder; });
  return zones;
}

bool isTwin(const Zone& zone, const std::vector<Zone>& zones) {
  if (zone.folderName.find("-mmio") == std::string::npos) return false;
  return std::any_of(zones.begin(), zones.end(), [&](const Zone& other) {
    return other.name == zone.name && other.folderName.find("-mmio") == std::string::npos;
  });
}

bool isPackage(const Zone& zone) { return zone.name.starts_with("package"); }

void addConstraints(const fs::path& folder, Reading& reading) {
  for (int c = 0; c < 16; ++c) {
    const std::string stem = fmt::format("constraint_{}", c);
    const std::string name = readWords(folder / (stem + "_name"));
    const auto limit = readNumber(folder / (stem + "_power_limit_uw"));
    if (name.empty() || !limit || *limit <= 0) continue;
    reading.limits[powerLimitName(name)] = static_cast<double>(*limit) / 1e6;
    reading.origins[powerLimitName(name)] = stem + "_power_limit_uw";
    if (const auto window = readNumber(folder / (stem + "_time_window_us")); window && *window > 0)
      reading.limits[powerLimitName(name) + "_window_s"] = static_cast<double>(*window) / 1e6;
  }
}

// The limit that holds in the long run may be moved by firmware or a program while a run goes on, so it is logged.
void addLimitReading(const std::string& root, const Zone& zone, const std::string& device, GaugeSource& source) {
  for (int c = 0; c < 16; ++c) {
    const std::string stem = fmt::format("constraint_{}", c);
    if (readWords(zone.folder / (stem + "_name")) != kLongTerm) continue;
    const fs::path file = zone.folder / (stem + "_power_limit_uw");
    if (readNumber(file).value_or(0) <= 0) return;
    Reading reading = makeReading(Quantity::Power, "power", zone.name + " limit");
    setPath(root, zone.folder, "#limit", reading);
    reading.id = "powercap:" + zone.chain + ":limit";
    reading.device = device;
    reading.driver = "powercap";
    reading.deviceKey = deviceKeyOf(root, zone.folder);
    reading.role = "cpu.power.limit";
    source.add(std::move(reading), std::make_unique<FileGauge>(file.string(), Quantity::Power, 1e6));
    return;
  }
}

void addCounter(const std::string& root, const Zone& zone, const std::string& device, GaugeSource& source) {
  const fs::path file = zone.folder / "energy_uj";
  const auto rangeUj = readNumber(zone.folder / "max_energy_range_uj");
  const double rangeJ = rangeUj && *rangeUj > 0 ? (static_cast<double>(*rangeUj) + 1) / 1e6 : 0;
  auto counter = std::make_shared<CounterFile>(file.string(), 1e6, rangeJ, kMostZoneW);
  Reading energy = makeReading(Quantity::Energy, "energy", zone.name);
  setPath(root, file, "", energy);
  energy.id = "powercap:" + zone.chain + ":energy";
  energy.device = device;
  energy.driver = "powercap";
  energy.deviceKey = deviceKeyOf(root, zone.folder);
  energy.step = 1e-6;
  Reading power = makeReading(Quantity::Power, "power", zone.name);
  setPath(root, file, "#rate", power);
  power.id = "powercap:" + zone.chain + ":power";
  power.device = device;
  power.driver = "powercap";
  power.deviceKey = energy.deviceKey;
  power.meaning =
      isPackage(zone) ? "processor package, from its energy counter" : zone.name + ", from its energy counter";
  addConstraints(zone.folder, power);
  if (isPackage(zone)) {
    energy.role = "cpu.energy";
    power.role = "cpu.power";
  }
  source.add(std::move(energy), std::make_unique<CounterGauge>(counter, CounterGauge::Shows::Total));
  source.add(std::move(power), std::make_unique<CounterGauge>(counter, CounterGauge::Shows::Rate));
}

void addDirectPower(const std::string& root, const Zone& zone, const std::string& device, GaugeSource& source) {
  const fs::path file = zone.folder / "power_uw";
  Reading power = makeReading(Quantity::Power, "power", zone.name);
  setPath(root, file, "", power);
  power.id = "powercap:" + zone.chain + ":power";
  power.device = device;
  power.driver = "powercap";
  power.deviceKey = deviceKeyOf(root, zone.folder);
  if (isPackage(zone)) power.role = "cpu.power";
  addConstraints(zone.folder, power);
  source.add(std::move(power), std::make_unique<FileGauge>(file.string(), Quantity::Power, 1e6));
}

Found openZones(const std::string& root) {
  Found found;
  const auto zones = listZones(root);
  for (const Zone& zone : zones) {
    std::error_code error;
    const bool hasCounter = fs::exists(zone.folder / "energy_uj", error);
    const fs::path file = zone.folder / (hasCounter ? "energy_uj" : "power_uw");
    if (isTwin(zone, zones)) {
      found.skipped.push_back({pathBelowRoot(root, file), "a second way to the counter of " + zone.name});
      continue;
    }
    SysfsFile number(file.string());
    if (!number.readInteger(0)) {
      found.skipped.push_back({pathBelowRoot(root, file), whyUnreadable(number.lastError())});
      continue;
    }
    auto source = std::make_unique<GaugeSource>("powercap:" + zone.chain);
    const std::string device = zone.name.empty() ? zone.folderName : zone.name;
    if (hasCounter)
      addCounter(root, zone, device, *source);
    else
      addDirectPower(root, zone, device, *source);
    if (isPackage(zone)) addLimitReading(root, zone, device, *source);
    found.sources.push_back(std::move(source));
  }
  return found;
}

}  // namespace

std::string powerLimitName(const std::string& constraint) {
  constexpr std::array<std::pair<std::string_view, const char*>, 3> kNames = {
      {{kLongTerm, "sustained"}, {"short_term", "short"}, {"peak_power", "peak"}}};
  const auto found =
      std::find_if(kNames.begin(), kNames.end(), [&](const auto& name) { return name.first == constraint; });
  return found == kNames.end() ? constraint : std::string(found->second);
}

std::vector<Finder> powercapFinders(const std::string& root) {
  return {{"sys/class/powercap", [root] { return openZones(root); }}};
}

}  // namespace ash
