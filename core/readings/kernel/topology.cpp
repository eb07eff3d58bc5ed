// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/topology.h"

#include <algorithm>
#include <filesystem>
#include <map>
#include <set>

#include "model/text.h"
#include "readings/kernel/found.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr const char* kCpus = "/sys/devices/system/cpu";
constexpr double kSameKind = 0.9;  // of the next higher clock: favoured cores differ by less

std::string kindFromLists(const std::string& root, int cpu) {
  for (const char* kind : {"cpu_core", "cpu_atom", "cpu_lowpower"}) {
    const auto list = readSmallFile(root + "/sys/devices/" + kind + "/cpus");
    if (!list) continue;
    const auto cpus = parseCpuList(*list);
    if (std::find(cpus.begin(), cpus.end(), cpu) != cpus.end()) return kind;
  }
  return {};
}

std::string kindFromFiles(const std::string& root, const fs::path& folder, int cpu) {
  if (const auto capacity = readNumber(folder / "cpu_capacity")) return "capacity " + std::to_string(*capacity);
  if (const std::string kind = kindFromLists(root, cpu); !kind.empty()) return kind;
  const auto base = readNumber(folder / "cpufreq/base_frequency");
  return base ? "base " + std::to_string(*base) : std::string();
}

// Where nothing else tells, highest clocks that lie far apart do.
void tellKindsByClock(const std::string& root, std::vector<LogicalCpu>& cpus) {
  std::map<int64_t, std::vector<LogicalCpu*>, std::greater<>> byClock;
  for (LogicalCpu& cpu : cpus) {
    const fs::path folder = root + kCpus + "/cpu" + std::to_string(cpu.cpu);
    if (cpu.kind.empty()) byClock[readNumber(folder / "cpufreq/cpuinfo_max_freq").value_or(0)].push_back(&cpu);
  }
  int64_t before = 0;
  std::string kind;
  for (auto& [clock, members] : byClock) {
    if (before == 0 || static_cast<double>(clock) < kSameKind * static_cast<double>(before))
      kind = "clock " + std::to_string(clock);
    before = clock;
    for (LogicalCpu* cpu : members) cpu->kind = kind;
  }
}

}  // namespace

std::vector<LogicalCpu> readTopology(const std::string& root) {
  std::vector<LogicalCpu> cpus;
  const auto online = readSmallFile(root + kCpus + "/online");
  const auto listed = parseCpuList(online.value_or(""));
  const std::set<int> on(listed.begin(), listed.end());
  for (const auto& [number, folder] : numberedEntries(root + kCpus, "cpu")) {
    if (!on.empty() && !on.contains(number)) continue;
    const auto part = [&folder = folder](const char* name, int fallback) {
      return static_cast<int>(readNumber(folder / "topology" / name).value_or(fallback));
    };
    // A package id of -1 stands for "not known" on some boards.
    cpus.push_back({number, std::max(0, part("physical_package_id", 0)), std::max(0, part("die_id", 0)),
                    part("core_id", number), kindFromFiles(root, folder, number)});
  }
  tellKindsByClock(root, cpus);
  return cpus;
}

std::vector<Cluster> readClusters(const std::string& root) {
  std::vector<Cluster> clusters;
  std::map<std::pair<int, std::string>, size_t> known;
  for (const LogicalCpu& cpu : readTopology(root)) {
    const auto [place, isNew] = known.try_emplace({cpu.package, cpu.kind}, clusters.size());
    if (isNew) clusters.push_back({cpu.package, {}});
    clusters[place->second].cpus.push_back(cpu.cpu);
  }
  return clusters;
}

std::string readProcessorName(const std::string& root) {
  const std::string text = readSmallFile(root + "/proc/cpuinfo").value_or("");
  for (const std::string_view line : splitText(text, '\n')) {
    if (!line.starts_with("model name")) continue;
    const size_t colon = line.find(':');
    if (colon != std::string_view::npos) return std::string(trimmed(withoutControls(line.substr(colon + 1))));
  }
  return {};
}

}  // namespace ash
