// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/supplies.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cmath>

#include "readings/gauges/plausible.h"
#include "readings/gauges/root_path.h"
#include "readings/kernel/supply_words.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kSupplyPaceS = 1;  // batteries renew their figures every 1 to 60 s

struct SupplyAttribute {
  const char* file;
  const char* kind;
  Quantity quantity;
  const char* unit;  // nullptr = the quantity's own
  double divisor;
  const char* words;  // after the supply's word
};

// Uniform units: µV, µA, µW, µWh, µAh, tenths of a degree.
constexpr SupplyAttribute kOfBattery[] = {
    {"capacity", "battery", Quantity::Percent, nullptr, 1, "Charge"},
    {"energy_now", "battery", Quantity::Other, "Wh", 1e6, "Energy left"},
    {"charge_now", "battery", Quantity::Other, "Ah", 1e6, "Charge left"},
    {"power_now", "power", Quantity::Power, nullptr, 1e6, "Battery power"},
    {"current_now", "current", Quantity::Current, nullptr, 1e6, "Battery current"},
    {"voltage_now", "voltage", Quantity::Voltage, nullptr, 1e6, "Battery voltage"},
    {"temp", "temp", Quantity::Temperature, nullptr, 10, "Battery temperature"},
};
constexpr SupplyAttribute kOfAdapter[] = {
    {"online", "state", Quantity::Other, "bool", 1, "online"},
    {"power_now", "power", Quantity::Power, nullptr, 1e6, "power"},
    {"current_now", "current", Quantity::Current, nullptr, 1e6, "current"},
    {"voltage_now", "voltage", Quantity::Voltage, nullptr, 1e6, "voltage"},
};

struct Supply {
  std::string root;
  fs::path folder;
  std::string name;
  SupplyType type;
  std::string device;
};

// +1 while energy comes in, -1 while it goes out, 0 where it is full or nothing is told.
double directionOf(const std::string& status) {
  if (status.starts_with("Discharging")) return -1;
  return status.starts_with("Charging") ? 1 : 0;
}

Reading describe(const Supply& supply, const SupplyAttribute& row, const fs::path& file) {
  Reading reading = makeReading(row.quantity, row.kind, row.words);
  if (row.unit != nullptr) reading.unit = row.unit;
  setPath(supply.root, file, "", reading);
  reading.device = supply.device;
  reading.deviceKey = "supply:" + supply.name;
  reading.driver = "power_supply";
  return reading;
}

void addFull(const Supply& supply, const std::string& file, Reading& reading) {
  const std::string stem = file.substr(0, file.find('_'));
  if (stem != "energy" && stem != "charge") return;
  for (const auto& [suffix, limit] : {std::pair{"_full", "max"}, std::pair{"_full_design", "design"}}) {
    const auto raw = readNumber(supply.folder / (stem + suffix));
    if (!raw || *raw <= 0) continue;
    reading.limits[limit] = static_cast<double>(*raw) / 1e6;
    reading.origins[limit] = stem + suffix;
  }
}

// A current is negative while it discharges by the rules, but many drivers give magnitudes: the status tells the sign.
// Adds the power that leaves (-) or enters (+) the battery, and the one drawn from it, which a run is judged by.
void addPower(const Supply& supply, const std::vector<std::pair<std::string, size_t>>& places, GaugeSource& source) {
  const auto placeOf = [&](const char* file) {
    const auto found = std::find_if(places.begin(), places.end(), [&](const auto& row) { return row.first == file; });
    return found == places.end() ? std::optional<size_t>() : found->second;
  };
  const auto power = placeOf("power_now"), current = placeOf("current_now"), voltage = placeOf("voltage_now");
  if (!power && !(current && voltage)) return;
  Reading signedPower = makeReading(Quantity::Power, "power", "Battery power (signed)");
  setPath(supply.root, supply.folder / (power ? "power_now" : "current_now"), "#signed", signedPower);
  signedPower.device = supply.device;
  signedPower.deviceKey = "supply:" + supply.name;
  signedPower.driver = "power_supply";
  signedPower.meaning = "into the battery (+) or out of it (-), computed";
  auto status = std::make_shared<SysfsFile>((supply.folder / "status").string());
  const size_t place = source.compute(signedPower, [power, current, voltage, status](const Moment& moment) {
    const auto& values = *moment.values;
    const double watts = power ? values[*power] : values[*current] * values[*voltage];
    const double direction = directionOf(status->readText(moment.nowS).value_or(""));
    if (direction != 0) return direction * std::abs(watts);
    return watts <= 0 ? watts : kMissing;  // neither in nor out: an unsigned figure says nothing
  });
  Reading drawn = makeReading(Quantity::Power, "power", power ? "Power drawn from the battery" : "Battery power");
  setPath(supply.root, supply.folder / (power ? "power_now" : "current_now"), power ? "#drawn" : "#power", drawn);
  drawn.device = supply.device;
  drawn.deviceKey = signedPower.deviceKey;
  drawn.driver = "power_supply";
  drawn.role = "battery.power";
  drawn.meaning = "drawn from the battery, computed";
  source.compute(drawn, [place](const Moment& moment) { return -(*moment.values)[place]; });
}

void addAttributes(const Supply& supply, bool isBattery, GaugeSource& source, Found& found) {
  std::vector<std::pair<std::string, size_t>> places;
  const auto rows = isBattery ? std::vector<SupplyAttribute>(std::begin(kOfBattery), std::end(kOfBattery))
                              : std::vector<SupplyAttribute>(std::begin(kOfAdapter), std::end(kOfAdapter));
  for (const SupplyAttribute& row : rows) {
    const fs::path file = supply.folder / row.file;
    SysfsFile number(file.string());
    const auto raw = number.readInteger(0);
    if (!raw && number.lastError() == ENOENT) continue;
    const std::string why = raw ? whyImpossible(row.quantity, *raw, static_cast<double>(*raw) / row.divisor)
                                : whyUnreadable(number.lastError());
    if (!why.empty()) {
      found.skipped.push_back({pathBelowRoot(supply.root, file), why});
      continue;
    }
    Reading reading = describe(supply, row, file);
    if (!isBattery) reading.name = supply.name + " " + row.words;
    if (row.file == std::string("capacity")) reading.role = "battery.charge";
    addFull(supply, row.file, reading);
    const size_t place =
        source.add(std::move(reading), std::make_unique<FileGauge>(file.string(), row.quantity, row.divisor));
    places.emplace_back(row.file, place);
  }
  if (isBattery) addPower(supply, places, source);
}

Found openSupply(const std::string& root, const fs::path& folder) {
  Found found;
  Supply supply{root, folder, folder.filename().string(), supplyTypeOf(folder), readWords(folder / "model_name")};
  if (isOfPeripheral(folder)) return found;
  if (isMissing(folder)) {
    found.skipped.push_back({pathBelowRoot(root, folder), "no battery is in its place"});
    return found;
  }
  supply.device = supply.device.empty() ? supply.name : supply.name + " " + supply.device;
  auto source = std::make_unique<GaugeSource>("supply:" + supply.name);
  addAttributes(supply, supply.type == SupplyType::Battery || supply.type == SupplyType::Ups, *source, found);
  source->setPaceS(kSupplyPaceS);
  if (!source->isEmpty()) found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

std::vector<Finder> supplyFinders(const std::string& root) {
  std::vector<fs::path> folders;
  std::error_code error;
  for (fs::directory_iterator it(root + "/sys/class/power_supply", error), end; !error && it != end;
       it.increment(error))
    folders.push_back(it->path());
  std::sort(folders.begin(), folders.end());
  std::vector<Finder> finders;
  for (const fs::path& folder : folders) {
    finders.push_back(
        {"sys/class/power_supply/" + folder.filename().string(), [root, folder] { return openSupply(root, folder); }});
  }
  return finders;
}

}  // namespace ash
