// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/graphics_cards.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cerrno>

#include "readings/gauges/root_path.h"
#include "readings/kernel/device_sleep.h"
#include "readings/kernel/gpu_metrics.h"
#include "readings/kernel/pci_links.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

struct Card {
  std::string root;
  fs::path folder;  // …/drm/card0
  fs::path device;  // the PCI device
  std::string name;
  std::string engine;  // " 1" for a second engine of a card, else empty
  bool isAsleep = false;
};

void finish(const Card& card, const char* role, Reading& reading) {
  reading.device = card.name;
  reading.deviceKey = deviceKeyOf(card.root, card.device);
  reading.place = pciPlace(reading.deviceKey);
  reading.driver = "drm";
  reading.role = role;
}

// Adds the reading of a file where it is there and holds a number, or is asleep and cannot be asked.
bool addNumber(const Card& card, const fs::path& file, double divisor, const char* role, Reading reading,
               GaugeSource& source, Found& found) {
  std::error_code error;
  if (!fs::exists(file, error)) return false;
  SysfsFile number(file.string());
  if (!card.isAsleep && !number.readInteger(0)) {
    const int why = number.lastError();
    if (why != EBUSY && why != EAGAIN) {
      found.skipped.push_back({pathBelowRoot(card.root, file), whyUnreadable(why)});
      return false;
    }
  }
  setPath(card.root, file, "", reading);
  finish(card, role, reading);
  source.add(std::move(reading), std::make_unique<FileGauge>(file.string(), reading.quantity, divisor));
  return true;
}

// Time asleep in milliseconds: its share of the time, and what is left as load.
void addSleep(const Card& card, const fs::path& file, const char* name, GaugeSource& source) {
  std::error_code error;
  if (!fs::exists(file, error)) return;
  auto counter = std::make_shared<CounterFile>(file.string(), 10, 429496729.6, 200);  // ms -> % s, 32 bits wide
  Reading share = makeReading(Quantity::Percent, "load", name + card.engine);
  setPath(card.root, file, "#rate", share);
  finish(card, "", share);
  const size_t place = source.add(std::move(share), std::make_unique<CounterGauge>(counter, CounterGauge::Shows::Rate));
  Reading busy = makeReading(Quantity::Percent, "load", "GPU awake" + card.engine);
  setPath(card.root, file, "#awake", busy);
  finish(card, "gpu.load", busy);
  busy.meaning = "graphics awake, share of the time, computed";
  source.compute(std::move(busy),
                 [place](const Moment& moment) { return std::max(0.0, 100 - (*moment.values)[place]); });
}

void addFlags(const Card& card, const fs::path& folder, const std::string& start, GaugeSource& source, Found& found) {
  std::vector<std::string> names;
  std::error_code error;
  for (fs::directory_iterator it(folder, error), end; !error && it != end; it.increment(error)) {
    const std::string name = it->path().filename().string();
    if (name.starts_with(start) || (start == "reason_" && name == "status")) names.push_back(name);
  }
  std::sort(names.begin(), names.end());
  for (const std::string& name : names) {
    const std::string reason = name.starts_with(start) ? name.substr(start.size()) : name;
    addNumber(card, folder / name, 1, "", makeReading("bool", "state", "GPU throttled: " + reason + card.engine),
              source, found);
  }
}

void addClock(const Card& card, const fs::path& folder, const char* file, const std::array<const char*, 2>& limits,
              const char* name, const char* role, GaugeSource& source, Found& found) {
  Reading reading = makeReading(Quantity::Clock, "clock", name + card.engine);
  constexpr std::array kNames = {"min", "max"};
  for (size_t i = 0; i < limits.size(); ++i) {
    const auto megahertz = readNumber(folder / limits[i]);
    if (!megahertz || *megahertz <= 0) continue;
    reading.limits[kNames[i]] = static_cast<double>(*megahertz);
    reading.origins[kNames[i]] = limits[i];
  }
  addNumber(card, folder / file, 1, role, std::move(reading), source, found);
}

// i915: folders gt/gtN, or files of the card itself in older kernels.
bool addI915(Card card, GaugeSource& source, Found& found) {
  const auto engines = numberedEntries(card.folder / "gt", "gt");
  for (const auto& [number, folder] : engines) {
    card.engine = number == 0 ? "" : fmt::format(" {}", number);
    const bool isFirst = number == 0;
    addClock(card, folder, "rps_act_freq_mhz", {"rps_min_freq_mhz", "rps_max_freq_mhz"}, "GPU actual clock",
             isFirst ? "gpu.clock" : "", source, found);
    addClock(card, folder, "rps_cur_freq_mhz", {"rps_min_freq_mhz", "rps_max_freq_mhz"}, "GPU requested clock", "",
             source, found);
    addSleep(card, folder / "rc6_residency_ms", "GPU render sleep (RC6) share", source);
    addFlags(card, folder, "throttle_reason_", source, found);
  }
  std::error_code error;
  if (!engines.empty() || !fs::exists(card.folder / "gt_act_freq_mhz", error)) return !engines.empty();
  addClock(card, card.folder, "gt_act_freq_mhz", {"gt_min_freq_mhz", "gt_max_freq_mhz"}, "GPU actual clock",
           "gpu.clock", source, found);
  addClock(card, card.folder, "gt_cur_freq_mhz", {"gt_min_freq_mhz", "gt_max_freq_mhz"}, "GPU requested clock", "",
           source, found);
  addSleep(card, card.folder / "power/rc6_residency_ms", "GPU render sleep (RC6) share", source);
  return true;
}

// xe: device/tileN/gtM/freq0, gtidle.
void addXe(Card card, GaugeSource& source, Found& found) {
  int count = 0;
  for (const auto& [tileNumber, tile] : numberedEntries(card.device, "tile")) {
    for (const auto& [number, folder] : numberedEntries(tile, "gt")) {
      card.engine = count == 0 ? "" : fmt::format(" {}.{}", tileNumber, number);
      const bool isFirst = count++ == 0;
      addClock(card, folder / "freq0", "act_freq", {"min_freq", "max_freq"}, "GPU actual clock",
               isFirst ? "gpu.clock" : "", source, found);
      addClock(card, folder / "freq0", "cur_freq", {"min_freq", "max_freq"}, "GPU requested clock", "", source, found);
      addSleep(card, folder / "gtidle/idle_residency_ms", "GPU idle share", source);
      addFlags(card, folder / "freq0/throttle", "reason_", source, found);
    }
  }
}

void addThrottleBits(const Card& card, GaugeSource& source, Found& found) {
  const fs::path file = card.device / "gpu_metrics";
  std::error_code error;
  if (!fs::exists(file, error)) return;
  SysfsFile table(file.string());
  const std::string bytes = card.isAsleep ? std::string() : table.readText(0).value_or("");
  const auto now = parseGpuThrottle(bytes);
  if (!now && !card.isAsleep) {
    found.skipped.push_back({pathBelowRoot(card.root, file),
                             bytes.empty() ? whyUnreadable(table.lastError()) : "a table of a kind that is not known"});
    return;
  }
  const bool isIndependent = !now || now->areChipIndependent;
  Reading reading = makeReading("bits", "state", "GPU throttle status");
  setPath(card.root, file, isIndependent ? "#indep_throttle_status" : "#throttle_status", reading);
  finish(card, "", reading);
  reading.meaning = isIndependent ? "which limits hold it back, one bit each" : "limits that hold it back, 0 = none";
  source.add(std::move(reading), std::make_unique<TextGauge>(file.string(), [](const std::string& text) {
               const auto bits = parseGpuThrottle(text);
               return bits ? static_cast<double>(bits->bits) : kMissing;
             }));
}

void addAmd(const Card& card, GaugeSource& source, Found& found) {
  addNumber(card, card.device / "gpu_busy_percent", 1, "gpu.load", makeReading(Quantity::Percent, "load", "GPU busy"),
            source, found);
  addNumber(card, card.device / "mem_busy_percent", 1, "",
            makeReading(Quantity::Percent, "load", "GPU memory controller busy"), source, found);
  Reading memory = makeReading("MiB", "memory", "GPU memory in use");
  if (const auto total = readNumber(card.device / "mem_info_vram_total"); total && *total > 0)
    memory.limits["max"] = static_cast<double>(*total) / 1048576;
  addNumber(card, card.device / "mem_info_vram_used", 1048576, "", std::move(memory), source, found);
  addThrottleBits(card, source, found);
}

Found openCard(const std::string& root, const fs::path& folder) {
  Found found;
  std::error_code error;
  Card card{root, folder, fs::canonical(folder / "device", error), "", "", false};
  if (error) card.device = folder;
  card.name = readWords(card.device / "product_name");
  if (card.name.empty()) card.name = readWords(card.device / "label");
  if (card.name.empty()) card.name = "graphics " + pciPlace("/" + deviceKeyOf(root, card.device));
  card.isAsleep = isAsleep(card.device);
  auto source = std::make_unique<GaugeSource>("graphics:" + deviceKeyOf(root, card.device));
  addAmd(card, *source, found);
  if (!addI915(card, *source, found)) addXe(card, *source, found);
  if (source->isEmpty()) return found;
  if (const auto file = sleepFileOf(card.device)) source->setSleepFile(*file);
  found.sources.push_back(std::move(source));
  return found;
}

Found findDevfreq(const std::string& root) {
  Found found;
  auto source = std::make_unique<GaugeSource>("devfreq");
  std::vector<fs::path> entries;
  std::error_code error;
  for (fs::directory_iterator it(root + "/sys/class/devfreq", error), end; !error && it != end; it.increment(error))
    entries.push_back(it->path());
  std::sort(entries.begin(), entries.end());
  for (const fs::path& entry : entries) {
    const fs::path file = entry / "cur_freq";
    SysfsFile number(file.string());
    if (!number.readInteger(0)) {
      if (number.lastError() != ENOENT)
        found.skipped.push_back({pathBelowRoot(root, file), whyUnreadable(number.lastError())});
      continue;
    }
    const std::string name = entry.filename().string();
    Reading reading = makeReading(Quantity::Clock, "clock", name);
    setPath(root, file, "", reading);
    reading.device = name;
    reading.deviceKey = "devfreq:" + name;
    reading.driver = "devfreq";
    if (name.find("gpu") != std::string::npos) reading.role = "gpu.clock";
    for (const auto& [limitFile, limit] : {std::pair{"min_freq", "min"}, std::pair{"max_freq", "max"}}) {
      if (const auto hertz = readNumber(entry / limitFile); hertz && *hertz > 0)
        reading.limits[limit] = static_cast<double>(*hertz) / 1e6;
    }
    source->add(std::move(reading), std::make_unique<FileGauge>(file.string(), Quantity::Clock, 1e6));
  }
  if (!source->isEmpty()) found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

std::vector<Finder> graphicsFinders(const std::string& root) {
  std::vector<Finder> finders;
  for (const auto& [number, entry] : numberedEntries(root + "/sys/class/drm", "card")) {
    std::error_code error;
    const fs::path folder = fs::canonical(entry, error);
    if (!error) finders.push_back({pathBelowRoot(root, folder), [root, folder] { return openCard(root, folder); }});
  }
  finders.push_back({"sys/class/devfreq", [root] { return findDevfreq(root); }});
  return finders;
}

}  // namespace ash
