// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/memory_use.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/text.h"
#include "readings/gauges/root_path.h"
#include "system/clock.h"

namespace ash {
namespace {

double kilobytesOf(std::string_view text, std::string_view name) {
  for (const std::string_view line : splitText(text, '\n')) {
    if (!line.starts_with(name)) continue;
    std::string_view rest = line.substr(name.size());
    if (rest.ends_with("kB")) rest.remove_suffix(2);
    const auto number = parseKernelInteger(rest);
    return number ? static_cast<double>(*number) : kMissing;
  }
  return kMissing;
}

// Share of the time, in percent, from a total of waiting microseconds.
TextGauge::Parse waitingShare() {
  auto counter = std::make_shared<Counter>(0, 0);
  return [counter](const std::string& text) {
    const double atS = bootTimeS();
    counter->take(parsePressureTotalUs(text), atS, atS - monotonicS());
    return std::clamp(counter->rate() / 1e4, 0.0, 100.0);
  };
}

Found findMemory(const std::string& root) {
  Found found;
  const std::string file = root + "/proc/meminfo";
  SysfsFile meminfo(file);
  const auto text = meminfo.readText(0);
  const MemoryUse now = text ? parseMemoryUse(*text) : MemoryUse{};
  if (!std::isfinite(now.usedMib)) return found;
  auto source = std::make_unique<GaugeSource>("memory");
  Reading used = makeReading("MiB", "memory", "Memory in use");
  setPath(root, file, "#MemTotal-MemAvailable", used);
  used.device = "memory";
  used.deviceKey = "memory";
  used.driver = "proc";
  used.limits["max"] = now.totalMib;
  used.origins["max"] = "MemTotal";
  source->add(std::move(used),
              std::make_unique<TextGauge>(file, [](const std::string& all) { return parseMemoryUse(all).usedMib; }));
  found.sources.push_back(std::move(source));
  return found;
}

Found findPressure(const std::string& root) {
  Found found;
  auto source = std::make_unique<GaugeSource>("pressure");
  for (const auto& [name, words] :
       {std::pair{"cpu", "Work waiting for a CPU"}, std::pair{"memory", "Work waiting for memory"},
        std::pair{"io", "Work waiting for a drive"}}) {
    const std::string file = fmt::format("{}/proc/pressure/{}", root, name);
    SysfsFile pressure(file);
    const auto text = pressure.readText(0);
    if (!text || !std::isfinite(parsePressureTotalUs(*text))) continue;
    Reading reading = makeReading(Quantity::Percent, "load", words);
    setPath(root, file, "#some", reading);
    reading.device = "kernel";
    reading.deviceKey = "pressure";
    reading.driver = "proc";
    reading.meaning = "share of the time in which at least one task had to wait";
    source->add(std::move(reading), std::make_unique<TextGauge>(file, waitingShare()));
  }
  if (!source->isEmpty()) found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

MemoryUse parseMemoryUse(std::string_view text) {
  const double total = kilobytesOf(text, "MemTotal:");
  return {(total - kilobytesOf(text, "MemAvailable:")) / 1024, total / 1024};
}

double parsePressureTotalUs(std::string_view text) {
  const std::string_view line = text.substr(0, text.find('\n'));
  const size_t at = line.find("total=");
  if (!line.starts_with("some") || at == std::string_view::npos) return kMissing;
  const auto number = parseKernelInteger(line.substr(at + 6));
  return number ? static_cast<double>(*number) : kMissing;
}

std::vector<Finder> memoryFinders(const std::string& root) {
  return {{"proc/meminfo", [root] { return findMemory(root); }},
          {"proc/pressure", [root] { return findPressure(root); }}};
}

}  // namespace ash
