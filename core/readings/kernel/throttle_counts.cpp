// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/throttle_counts.h"

#include <fmt/format.h>

#include <cerrno>
#include <set>
#include <tuple>

#include "readings/gauges/root_path.h"
#include "readings/kernel/topology.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

struct Counted {
  const char* file;
  const char* kind;
  const char* unit;
  double divisor;
  const char* meaning;
};
constexpr Counted kCounted[] = {
    {"throttle_count", "count", "events", 1, "times slowed down by heat since the machine was started"},
    {"throttle_total_time_ms", "duration", "s", 1e3, "time slowed down by heat since the machine was started"}};

void addCounts(const std::string& root, const fs::path& folder, const std::string& what, const std::string& owner,
               const std::string& id, GaugeSource& source, Found& found) {
  for (const Counted& row : kCounted) {
    const fs::path file = folder / (what + "_" + row.file);
    SysfsFile number(file.string());
    if (!number.readInteger(0)) {
      if (number.lastError() != ENOENT)
        found.skipped.push_back({pathBelowRoot(root, file), whyUnreadable(number.lastError())});
      continue;
    }
    Reading reading = makeReading(row.unit, row.kind, owner);
    if (row.kind == std::string("duration")) reading.quantity = Quantity::Duration;
    setPath(root, file, "", reading);
    reading.id = fmt::format("throttle:{}:{}", id, row.kind);
    reading.device = "processor";
    reading.deviceKey = "processor";
    reading.driver = "thermal_throttle";
    reading.meaning = row.meaning;
    reading.step = 1 / row.divisor;
    source.add(std::move(reading), std::make_unique<FileGauge>(file.string(), Quantity::Other, row.divisor));
  }
}

Found findCounts(const std::string& root) {
  Found found;
  auto source = std::make_unique<GaugeSource>("throttle");
  std::set<std::tuple<int, int, int>> cores;
  std::set<int> packages;
  const auto topology = readTopology(root);
  for (const LogicalCpu& cpu : topology) {
    const fs::path folder = fmt::format("{}/sys/devices/system/cpu/cpu{}/thermal_throttle", root, cpu.cpu);
    std::error_code error;
    if (!fs::is_directory(folder, error)) continue;
    const std::string socket = fmt::format("package{}", cpu.package);
    if (cores.insert({cpu.package, cpu.die, cpu.core}).second)
      addCounts(root, folder, "core", fmt::format("Core {}", cpu.core),
                fmt::format("{}.{}.core{}", socket, cpu.die, cpu.core), *source, found);
    if (packages.insert(cpu.package).second)
      addCounts(root, folder, "package", fmt::format("Package {}", cpu.package), socket, *source, found);
  }
  if (!source->isEmpty()) found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

std::vector<Finder> throttleFinders(const std::string& root) {
  return {{"sys/devices/system/cpu", [root] { return findCounts(root); }}};
}

}  // namespace ash
