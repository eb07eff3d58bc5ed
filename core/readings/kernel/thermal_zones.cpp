// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/thermal_zones.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "model/text.h"
#include "readings/gauges/plausible.h"
#include "readings/gauges/root_path.h"
#include "readings/kernel/hwmon_computed.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kAcpiPaceS = 1;  // an ACPI zone runs code of the firmware at every read
constexpr double kHighestTripC = 200;

struct ThermalZone {
  fs::path folder;
  std::string type;
  int placeAmongEquals = 0;
};

std::vector<ThermalZone> listThermalZones(const std::string& root) {
  std::vector<ThermalZone> zones;
  std::map<std::string, int> equals;
  for (const auto& [number, entry] : numberedEntries(root + "/sys/class/thermal", "thermal_zone")) {
    std::error_code error;
    const fs::path folder = fs::canonical(entry, error);
    if (error || !fs::exists(folder / "temp", error)) continue;
    const std::string type = readWords(folder / "type");
    zones.push_back({folder, type, equals[type]++});
  }
  return zones;
}

// Unset trips read 0, -1 or -274000 and are none. Of several trips of a kind the lowest counts.
void addTrips(const fs::path& folder, Reading& reading) {
  for (int trip = 0; trip < 64; ++trip) {
    const std::string stem = fmt::format("trip_point_{}", trip);
    const std::string type = readWords(folder / (stem + "_type"));
    if (type.empty()) {
      std::error_code error;
      if (!fs::exists(folder / (stem + "_temp"), error)) break;
      continue;
    }
    const auto raw = readNumber(folder / (stem + "_temp"));
    const double celsius = raw ? static_cast<double>(*raw) / 1000 : 0;
    if (celsius <= 0 || celsius >= kHighestTripC) continue;
    const auto known = reading.limits.find(type);
    if (known != reading.limits.end() && known->second <= celsius) continue;
    reading.limits[type] = celsius;
    reading.origins[type] = stem + "_temp";
  }
}

// A zone whose policy is made by programs has a fixed value and no sensor (INT3400 and its relatives).
bool isPolicyOnly(const ThermalZone& zone) {
  return zone.type.starts_with("INT340") && zone.type.find("Thermal") != std::string::npos;
}

std::string reasonToSkip(const ThermalZone& zone) {
  SysfsFile file((zone.folder / "temp").string());
  const auto raw = file.readInteger(0);
  if (!raw) return whyUnreadable(file.lastError());
  if (isPolicyOnly(zone)) return "a zone of the firmware's policy with a fixed value, no sensor";
  return whyImpossible(Quantity::Temperature, *raw, static_cast<double>(*raw) / 1000);
}

Reading describeZone(const std::string& root, const ThermalZone& zone) {
  Reading reading =
      makeReading(Quantity::Temperature, "temp", zone.type.empty() ? zone.folder.filename().string() : zone.type);
  setPath(root, zone.folder / "temp", "", reading);
  reading.id = fmt::format("thermal:{}#{}", reading.name, zone.placeAmongEquals);
  reading.device = reading.name;
  reading.driver = kThermalDriver;
  reading.deviceKey = isProcessorZone(zone.type) ? "thermal:processor" : reading.id;
  if (zone.type.starts_with("acpitz")) reading.refreshS = kAcpiPaceS;
  addTrips(zone.folder, reading);
  return reading;
}

void addZone(const std::string& root, const ThermalZone& zone, GaugeSource& source, Found& found) {
  if (const std::string why = reasonToSkip(zone); !why.empty()) {
    found.skipped.push_back({pathBelowRoot(root, zone.folder / "temp"), why});
    return;
  }
  source.add(describeZone(root, zone),
             std::make_unique<FileGauge>((zone.folder / "temp").string(), Quantity::Temperature, 1e3));
}

Found findProcessorZones(const std::string& root, const std::vector<ThermalZone>& zones) {
  Found found;
  auto source = std::make_unique<GaugeSource>("thermal:processor");
  for (const ThermalZone& zone : zones) addZone(root, zone, *source, found);
  if (source->isEmpty()) return found;
  std::vector<size_t> all(source->readings().size());
  for (size_t i = 0; i < all.size(); ++i) all[i] = i;
  if (all.size() > 1) {
    Reading hottest = makeReading(Quantity::Temperature, "temp", fmt::format("hottest of {} zones", all.size()));
    hottest.id = "thermal:processor/hottest";
    hottest.device = "processor";
    hottest.driver = kThermalDriver;
    hottest.deviceKey = "thermal:processor";
    hottest.meaning = hottest.name + " of the processor, computed";
    copyLowestLimits(source->readings(), all, hottest);
    source->compute(hottest, [all](const Moment& moment) { return highestOf(*moment.values, all); });
  }
  found.sources.push_back(std::move(source));
  return found;
}

Found findZone(const std::string& root, const ThermalZone& zone) {
  Found found;
  auto source = std::make_unique<GaugeSource>(fmt::format("thermal:{}#{}", zone.type, zone.placeAmongEquals));
  addZone(root, zone, *source, found);
  if (source->isEmpty()) return found;
  if (zone.type.starts_with("acpitz") || zone.type.starts_with("SEN") || zone.type.starts_with("iwlwifi"))
    source->setPaceS(kAcpiPaceS);
  found.sources.push_back(std::move(source));
  return found;
}

Found findCooling(const std::string& root) {
  Found found;
  auto source = std::make_unique<GaugeSource>("thermal:cooling");
  std::map<std::string, int> equals;
  for (const auto& [number, entry] : numberedEntries(root + "/sys/class/thermal", "cooling_device")) {
    const fs::path file = entry / "cur_state";
    SysfsFile state(file.string());
    const std::string type = readWords(entry / "type");
    if (!state.readInteger(0)) {
      found.skipped.push_back({pathBelowRoot(root, file), whyUnreadable(state.lastError())});
      continue;
    }
    Reading reading = makeReading("step", "state", type.empty() ? fmt::format("cooling_device{}", number) : type);
    setPath(root, file, "", reading);
    reading.id = fmt::format("cooling:{}#{}", reading.name, equals[reading.name]++);
    reading.device = reading.name;
    reading.driver = kThermalDriver;
    reading.deviceKey = reading.id;
    reading.step = 1;
    reading.meaning = "step of cooling, 0 = none";
    if (const auto most = readNumber(entry / "max_state"); most && *most > 0)
      reading.limits["max"] = static_cast<double>(*most);
    source->add(std::move(reading), std::make_unique<FileGauge>(file.string(), Quantity::Other, 1));
  }
  if (!source->isEmpty()) found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

bool isProcessorZone(const std::string& type) {
  std::string lower = type;
  std::transform(lower.begin(), lower.end(), lower.begin(), [](unsigned char c) { return std::tolower(c); });
  if (lower.find("gpu") != std::string::npos) return false;
  return lower.starts_with("cpu") || lower == "x86_pkg_temp" || lower.find("core") != std::string::npos ||
         lower.starts_with("soc") || lower.starts_with("package") || lower.starts_with("cluster");
}

std::vector<Finder> thermalFinders(const std::string& root) {
  std::vector<ThermalZone> ofProcessor;
  std::vector<Finder> finders;
  for (const ThermalZone& zone : listThermalZones(root)) {
    if (isProcessorZone(zone.type)) {
      ofProcessor.push_back(zone);
      continue;
    }
    finders.push_back({pathBelowRoot(root, zone.folder), [root, zone] { return findZone(root, zone); }});
  }
  if (!ofProcessor.empty())
    finders.push_back({"sys/class/thermal", [root, ofProcessor] { return findProcessorZones(root, ofProcessor); }});
  finders.push_back({"sys/class/thermal", [root] { return findCooling(root); }});
  return finders;
}

}  // namespace ash
