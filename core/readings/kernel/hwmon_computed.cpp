// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/hwmon_computed.h"

#include <fmt/format.h>

#include <array>

#include "model/role.h"
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

namespace {

/// Of which readings of a chip the hottest and the mean are the processor's.
struct CoreLabels {
  std::string_view driver, words;
  const char* core;                     // both are taken of these
  std::array<const char*, 2> packages;  // the hottest may be one of these as well
};
constexpr std::array kCoreLabels = {CoreLabels{"coretemp", "cores", "Core ", {"Package id", "Physical id"}},
                                    CoreLabels{"k10temp", "dies", "Tccd", {nullptr, nullptr}}};

}  // namespace

void addHwmonComputed(const std::string& driver, GaugeSource& chip) {
  for (const CoreLabels& labels : kCoreLabels) {
    if (driver != labels.driver) continue;
    const auto cores = temperaturesNamed(chip.readings(), labels.core);
    if (cores.size() < 2) return;
    std::vector<size_t> all = cores;
    for (const char* package : labels.packages) {
      if (package == nullptr) continue;
      for (const size_t i : temperaturesNamed(chip.readings(), package)) all.push_back(i);
    }
    const char* andPackage = labels.packages[0] == nullptr ? "" : " and their package";
    addOne(chip, "hottest", fmt::format("hottest of {} {}{}", cores.size(), labels.words, andPackage), roles::kCpuTemp,
           all, highestOf);
    addOne(chip, "mean", fmt::format("mean of {} {}", cores.size(), labels.words), roles::kCpuTempMean, cores, meanOf);
  }
}

}  // namespace ash
