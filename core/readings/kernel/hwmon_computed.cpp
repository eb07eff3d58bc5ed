// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/hwmon_computed.h"

#include <fmt/format.h>

#include "readings/kernel/found.h"

namespace ash {
namespace {

std::vector<size_t> temperaturesNamed(const std::vector<Reading>& readings, const std::string& start) {
  std::vector<size_t> found;
  for (size_t i = 0; i < readings.size(); ++i) {
    if (readings[i].quantity == Quantity::Temperature && readings[i].name.starts_with(start)) found.push_back(i);
  }
  return found;
}

void addOne(GaugeSource& chip, const char* id, const std::string& name, const std::string& role,
            const std::vector<size_t>& which,
            double (*compute)(const std::vector<double>&, const std::vector<size_t>&)) {
  const Reading& first = chip.readings()[which.front()];
  Reading reading = makeReading(Quantity::Temperature, "temp", name);
  reading.id = chip.info().id + "/" + id;
  reading.device = first.device;
  reading.deviceKey = first.deviceKey;
  reading.refreshS = first.refreshS;
  reading.role = role;
  reading.meaning = name + ", computed";
  copyLowestLimits(chip.readings(), which, reading);
  reading.driver = first.driver;  // its limits mean what the driver's mean
  chip.compute(reading, [which, compute](const Moment& moment) { return compute(*moment.values, which); });
}

}  // namespace

void copyLowestLimits(const std::vector<Reading>& readings, const std::vector<size_t>& which, Reading& computed) {
  for (const size_t i : which) {
    for (const auto& [name, value] : readings[i].limits) {
      const auto known = computed.limits.find(name);
      if (known != computed.limits.end() && known->second <= value) continue;
      computed.limits[name] = value;
      const auto origin = readings[i].origins.find(name);
      if (origin != readings[i].origins.end()) computed.origins[name] = origin->second;
    }
  }
}

void addHwmonComputed(const std::string& driver, GaugeSource& chip) {
  if (driver == "coretemp") {
    const auto cores = temperaturesNamed(chip.readings(), "Core ");
    std::vector<size_t> all = cores;
    for (const char* package : {"Package id", "Physical id"}) {
      for (const size_t i : temperaturesNamed(chip.readings(), package)) all.push_back(i);
    }
    if (cores.size() < 2) return;
    addOne(chip, "hottest", fmt::format("hottest of {} cores and their package", cores.size()), "cpu.temp", all,
           highestOf);
    addOne(chip, "mean", fmt::format("mean of {} cores", cores.size()), "cpu.temp.mean", cores, meanOf);
  }
  if (driver == "k10temp") {
    const auto dies = temperaturesNamed(chip.readings(), "Tccd");
    if (dies.size() < 2) return;
    addOne(chip, "hottest", fmt::format("hottest of {} dies", dies.size()), "cpu.temp", dies, highestOf);
    addOne(chip, "mean", fmt::format("mean of {} dies", dies.size()), "cpu.temp.mean", dies, meanOf);
  }
}

}  // namespace ash
