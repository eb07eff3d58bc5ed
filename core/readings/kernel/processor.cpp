// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/processor.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/cpu_list.h"
#include "readings/gauges/root_path.h"
#include "readings/kernel/cpu_times.h"
#include "readings/kernel/topology.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kLoadedPercent = 20;

struct Policy {
  fs::path folder;
  std::vector<int> cpus;
  size_t place = 0;  // of its reading in the source
};

std::vector<int> cpusOf(const fs::path& folder, int number) {
  std::vector<int> cpus = parseCpuList(readSmallFile((folder / "affected_cpus").string()).value_or(""));
  if (cpus.empty()) cpus = {number};
  return cpus;
}

Reading clockReading(const std::string& root, const Policy& policy, const std::string& device) {
  Reading reading = makeReading(Quantity::Clock, "clock", "CPU " + cpuListText(policy.cpus));
  setPath(root, policy.folder / "scaling_cur_freq", "", reading);
  reading.device = device;
  reading.deviceKey = "processor";
  reading.driver = readWords(policy.folder / "scaling_driver");
  if (reading.driver.empty()) reading.driver = "cpufreq";
  if (policy.cpus.size() == 1) reading.role = "cpu.clock.core" + std::to_string(policy.cpus.front());
  for (const auto& [file, limit] : {std::pair{"cpuinfo_min_freq", "min"}, std::pair{"cpuinfo_max_freq", "max"},
                                    std::pair{"base_frequency", "base"}, std::pair{"bios_limit", "firmware"}}) {
    const auto kilohertz = readNumber(policy.folder / file);
    if (!kilohertz || *kilohertz <= 0) continue;
    reading.limits[limit] = static_cast<double>(*kilohertz) / 1000;
    reading.origins[limit] = file;
  }
  return reading;
}

std::vector<Policy> addPolicies(const std::string& root, const std::string& device, GaugeSource& source, Found& found) {
  std::vector<Policy> policies;
  for (const auto& [number, folder] : numberedEntries(root + "/sys/devices/system/cpu/cpufreq", "policy")) {
    const fs::path file = folder / "scaling_cur_freq";
    SysfsFile clock(file.string());
    const auto kilohertz = clock.readInteger(0);
    if (!kilohertz || *kilohertz <= 0) {
      const bool isOffLine = clock.lastError() == ENOENT || clock.lastError() == ENODEV;
      if (!isOffLine)
        found.skipped.push_back(
            {pathBelowRoot(root, file), kilohertz ? "no clock of 0 MHz is one" : whyUnreadable(clock.lastError())});
      continue;
    }
    Policy policy{folder, cpusOf(folder, number), 0};
    policy.place = source.add(clockReading(root, policy, device),
                              std::make_unique<FileGauge>(file.string(), Quantity::Clock, 1e3));
    policies.push_back(std::move(policy));
  }
  return policies;
}

Reading computedClock(const std::string& id, const std::string& cpus, const std::string& role,
                      const std::string& device) {
  const std::string name = "mean of the loaded cores";
  Reading reading = makeReading(Quantity::Clock, "clock", name);
  reading.id = id;
  reading.role = role;
  reading.device = device;
  reading.deviceKey = "processor";
  reading.meaning =
      (cpus.empty() ? "processor clock, " : "processor clock of CPU " + cpus + ", ") + name + ", computed";
  return reading;
}

// The mean over the cores of `cpus` that are loaded, or all of them when it is empty.
void addMeanClock(const std::vector<Policy>& policies, const std::vector<int>& cpus,
                  const std::shared_ptr<CpuTimes>& times, Reading reading, GaugeSource& source) {
  std::vector<std::pair<size_t, int>> cores;  // place of the clock, CPU
  for (const Policy& policy : policies) {
    for (const int cpu : policy.cpus) {
      const bool isWanted = cpus.empty() || std::find(cpus.begin(), cpus.end(), cpu) != cpus.end();
      if (isWanted) cores.emplace_back(policy.place, cpu);
    }
  }
  if (cores.empty()) return;
  source.compute(std::move(reading), [cores, times](const Moment& moment) {
    times->refresh(moment);
    std::vector<ClockAndLoad> rows;
    rows.reserve(cores.size());
    for (const auto& [place, cpu] : cores) rows.push_back({(*moment.values)[place], times->lastPercent(cpu)});
    return meanLoadedClockMhz(rows);
  });
}

void addClusters(const std::string& root, const std::vector<Policy>& policies, const std::shared_ptr<CpuTimes>& times,
                 const std::string& device, GaugeSource& source) {
  const auto clusters = readClusters(root);
  if (clusters.size() < 2) return;
  for (size_t c = 0; c < clusters.size(); ++c) {
    const std::string role = fmt::format("cpu.clock.cluster{}", c);
    // A policy that spans the cluster is its clock; nothing need be computed.
    const auto whole = std::find_if(policies.begin(), policies.end(), [&](const Policy& policy) {
      return policy.cpus.size() > 1 && policy.cpus == clusters[c].cpus;
    });
    if (whole != policies.end()) {
      source.readings()[whole->place].role = role;
      continue;
    }
    addMeanClock(policies, clusters[c].cpus, times,
                 computedClock("processor/" + role, cpuListText(clusters[c].cpus), role, device), source);
  }
}

void addLoads(const std::string& root, const std::string& device, const std::shared_ptr<CpuTimes>& times,
              GaugeSource& source) {
  times->refresh({0, -1, nullptr});
  const auto cpus = times->cpus();
  for (const int cpu : cpus) {
    Reading reading = makeReading(Quantity::Percent, "load", cpu < 0 ? "CPU total" : fmt::format("CPU {}", cpu));
    setPath(root, root + "/proc/stat", cpu < 0 ? "#cpu" : fmt::format("#cpu{}", cpu), reading);
    reading.device = device;
    reading.deviceKey = "processor";
    reading.driver = "proc";
    if (cpu < 0) reading.role = "cpu.load";
    const double count = cpu < 0 ? std::max<double>(1, static_cast<double>(cpus.size()) - 1) : 1;
    reading.step = 100 / (kTicksPerS * count);
    source.add(std::move(reading), std::make_unique<CpuLoadGauge>(times, cpu));
  }
}

Found findProcessor(const std::string& root) {
  Found found;
  auto source = std::make_unique<GaugeSource>("processor");
  const std::string name = readProcessorName(root);
  const std::string device = name.empty() ? "processor" : name;
  auto times = std::make_shared<CpuTimes>(root);
  const auto policies = addPolicies(root, device, *source, found);
  if (!policies.empty())
    addMeanClock(policies, {}, times, computedClock("computed/cpu.clock", "", "cpu.clock", device), *source);
  addClusters(root, policies, times, device, *source);
  addLoads(root, device, times, *source);
  if (!source->isEmpty()) found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

double meanLoadedClockMhz(const std::vector<ClockAndLoad>& cores) {
  double sum = 0, weight = 0, plain = 0;
  size_t count = 0;
  for (const ClockAndLoad& core : cores) {
    if (!std::isfinite(core.clockMhz)) continue;
    plain += core.clockMhz;
    ++count;
    if (std::isfinite(core.loadPercent) && core.loadPercent >= kLoadedPercent) {
      sum += core.clockMhz * core.loadPercent;
      weight += core.loadPercent;
    }
  }
  if (count == 0) return kMissing;
  return weight > 0 ? sum / weight : plain / static_cast<double>(count);
}

std::vector<Finder> processorFinders(const std::string& root) {
  return {{"sys/devices/system/cpu", [root] { return findProcessor(root); }}};
}

}  // namespace ash
