// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/cpu_source.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <filesystem>
#include <sstream>

#include "model/text.h"
#include "readings/root_path.h"
#include "system/clock.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr const char* kPolicies = "/sys/devices/system/cpu/cpufreq";

// "0-3,8" or "0 1 2": both kinds of list occur.
std::vector<int> parseCpuList(const std::string& text) {
  std::vector<int> cpus;
  std::string spaced = text;
  std::replace(spaced.begin(), spaced.end(), ',', ' ');
  std::istringstream words(spaced);
  for (std::string word; words >> word;) {
    const size_t dash = word.find('-');
    const auto first = parseKernelInteger(word.substr(0, dash));
    const auto last = dash == std::string::npos ? first : parseKernelInteger(word.substr(dash + 1));
    if (!first || !last || *first < 0 || *last > 8191) continue;
    for (int64_t cpu = *first; cpu <= *last; ++cpu) cpus.push_back(static_cast<int>(cpu));
  }
  return cpus;
}

std::vector<std::pair<int, fs::path>> listPolicies(const std::string& root) {
  std::vector<std::pair<int, fs::path>> found;
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(root + kPolicies, error)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with("policy")) continue;
    if (const auto number = parseKernelInteger(name.substr(6)))
      found.emplace_back(static_cast<int>(*number), entry.path());
  }
  std::sort(found.begin(), found.end());
  return found;
}

Reading clockReading(const std::string& root, int number, const fs::path& folder, size_t cpuCount) {
  Reading reading;
  reading.path = pathBelowRoot(root, folder / "scaling_cur_freq");
  reading.id = reading.path;
  reading.device = "processor";
  reading.driver = readSmallFile((folder / "scaling_driver").string()).value_or("cpufreq");
  reading.kind = "clock";
  reading.name = fmt::format("CPU {}", number);
  reading.role = (cpuCount > 1 ? "cpu.clock.cluster" : "cpu.clock.core") + std::to_string(number);
  reading.quantity = Quantity::Clock;
  reading.unit = unitOf(Quantity::Clock);
  for (const auto& [file, limit] : {std::pair{"cpuinfo_min_freq", "min"}, std::pair{"cpuinfo_max_freq", "max"},
                                    std::pair{"base_frequency", "base"}}) {
    SysfsFile frequency((folder / file).string());
    if (const auto kilohertz = frequency.readInteger(0); kilohertz && *kilohertz > 0) {
      reading.limits[limit] = static_cast<double>(*kilohertz) / 1000;
    }
  }
  return reading;
}

Reading computedClock() {
  Reading reading;
  reading.id = "computed/cpu.clock";
  reading.device = "processor";
  reading.driver = "computed";
  reading.kind = "clock";
  reading.name = "mean of the loaded cores";
  reading.role = "cpu.clock";
  reading.quantity = Quantity::Clock;
  reading.unit = unitOf(Quantity::Clock);
  return reading;
}

Reading loadReading(const std::string& root, int cpu, double tickPercent) {
  Reading reading;
  const std::string line = cpu < 0 ? "cpu" : fmt::format("cpu{}", cpu);
  reading.path = pathBelowRoot(root, root + "/proc/stat") + "#" + line;
  reading.id = reading.path;
  reading.device = "processor";
  reading.driver = "proc";
  reading.kind = "load";
  reading.name = cpu < 0 ? "all CPUs" : fmt::format("CPU {}", cpu);
  if (cpu < 0) reading.role = "cpu.load";
  reading.quantity = Quantity::Percent;
  reading.unit = unitOf(Quantity::Percent);
  reading.step = tickPercent;
  return reading;
}

// Mean clock, each core weighted by how busy it is; the plain mean while nothing runs or loads are unknown.
double meanLoadedClock(const std::vector<std::pair<double, double>>& clockAndWeight) {
  double sum = 0, weight = 0, plain = 0;
  size_t count = 0;
  for (const auto& [clock, busy] : clockAndWeight) {
    if (!std::isfinite(clock)) continue;
    plain += clock;
    ++count;
    if (std::isfinite(busy) && busy >= 20) {
      sum += clock * busy;
      weight += busy;
    }
  }
  if (count == 0) return kMissing;
  return weight > 0 ? sum / weight : plain / static_cast<double>(count);
}

}  // namespace

std::vector<CpuTicks> parseCpuTicks(const std::string& text) {
  std::vector<CpuTicks> all;
  std::istringstream lines(text);
  for (std::string line; std::getline(lines, line);) {
    if (!line.starts_with("cpu")) break;
    std::istringstream fields(line);
    std::string name;
    std::array<uint64_t, 8> ticks{};  // user nice system idle iowait irq softirq steal
    fields >> name;
    size_t count = 0;
    while (count < ticks.size() && fields >> ticks[count]) ++count;
    if (count < 4) continue;
    const auto cpu = name == "cpu" ? std::optional<int64_t>(-1) : parseKernelInteger(name.substr(3));
    if (!cpu) continue;
    CpuTicks row{static_cast<int>(*cpu), 0, 0};
    for (size_t i = 0; i < count; ++i) row.total += ticks[i];
    row.busy = row.total - ticks[3] - ticks[4];
    all.push_back(row);
  }
  return all;
}

std::unique_ptr<CpuSource> CpuSource::open(const std::string& root, std::vector<SkippedReading>& skipped) {
  std::unique_ptr<CpuSource> source(new CpuSource(root));
  source->m_info.id = "processor";
  source->findPolicies(root, skipped);
  source->addLoads(root);
  if (source->m_info.readings.empty()) return nullptr;
  return source;
}

void CpuSource::findPolicies(const std::string& root, std::vector<SkippedReading>& skipped) {
  for (const auto& [number, folder] : listPolicies(root)) {
    SysfsFile file((folder / "scaling_cur_freq").string());
    if (!file.readInteger(0)) {
      const bool isAbsent = file.lastError() == ENOENT;
      if (!isAbsent) skipped.push_back({pathBelowRoot(root, folder / "scaling_cur_freq"), "holds no number"});
      continue;
    }
    std::vector<int> cpus = parseCpuList(readSmallFile((folder / "affected_cpus").string()).value_or(""));
    if (cpus.empty()) cpus = {number};
    m_info.readings.push_back(clockReading(root, number, folder, cpus.size()));
    m_policies.push_back({std::move(file), std::move(cpus)});
  }
  if (!m_policies.empty()) m_info.readings.push_back(computedClock());
}

void CpuSource::addLoads(const std::string& root) {
  const auto text = m_stat.readText(0);
  if (!text) return;
  m_before = parseCpuTicks(*text);
  const double kTicksPerS = 100;  // USER_HZ is 100 on every architecture Linux exports it on
  for (const CpuTicks& row : m_before) {
    const double cpus = row.cpu < 0 ? std::max<double>(1, static_cast<double>(m_before.size()) - 1) : 1;
    m_info.readings.push_back(loadReading(root, row.cpu, 100 / (kTicksPerS * cpus)));
    m_loadCpus.push_back(row.cpu);
  }
  for (CpuTicks& row : m_before) row.total = 0;  // the first sweep has nothing to compare with
}

std::vector<double> CpuSource::readLoads(double nowS) {
  std::vector<double> loads(m_loadCpus.size(), kMissing);
  const auto text = m_loadCpus.empty() ? std::nullopt : m_stat.readText(nowS);
  if (!text) return loads;
  std::vector<CpuTicks> now = parseCpuTicks(*text);
  for (size_t i = 0; i < m_loadCpus.size(); ++i) {
    const auto find = [&](const std::vector<CpuTicks>& rows) {
      return std::find_if(rows.begin(), rows.end(), [&](const CpuTicks& row) { return row.cpu == m_loadCpus[i]; });
    };
    const auto after = find(now);
    const auto before = find(m_before);
    if (after == now.end() || before == m_before.end() || before->total == 0) continue;
    // A CPU that went off line and came back, or an iowait that ran backwards, gives no value for this sweep.
    if (after->total <= before->total || after->busy < before->busy) continue;
    loads[i] =
        100.0 * static_cast<double>(after->busy - before->busy) / static_cast<double>(after->total - before->total);
  }
  m_before = std::move(now);
  return loads;
}

Sweep CpuSource::sweep() {
  const double nowS = bootTimeS();
  const std::vector<double> loads = readLoads(nowS);
  Sweep sweep;
  std::vector<std::pair<double, double>> clocks;
  for (Policy& policy : m_policies) {
    const auto kilohertz = policy.file.readInteger(nowS);
    const double megahertz = kilohertz ? static_cast<double>(*kilohertz) / 1000 : kMissing;
    sweep.values.push_back(megahertz);
    for (const int cpu : policy.cpus) {
      const auto at = std::find(m_loadCpus.begin(), m_loadCpus.end(), cpu);
      const double busy = at == m_loadCpus.end() ? kMissing : loads[static_cast<size_t>(at - m_loadCpus.begin())];
      clocks.emplace_back(megahertz, busy);
    }
  }
  if (!m_policies.empty()) sweep.values.push_back(meanLoadedClock(clocks));
  sweep.values.insert(sweep.values.end(), loads.begin(), loads.end());
  sweep.timeS = bootTimeS();
  return sweep;
}

}  // namespace ash
