// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in_parts.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cmath>
#include <functional>

#include "sim/stand_in_knobs.h"

namespace ash::sim {
namespace {

using Part = Result<std::unique_ptr<StandInPart>>;

/// A number file that is written from the bench by a function.
struct Shown {
  std::unique_ptr<NumberFile> file;
  std::function<double(const Bench&)> value;  // as the kernel's integer
};

Status show(const FileTree& tree, const std::string& file, std::function<double(const Bench&)> value,
            std::vector<Shown>& all) {
  auto number = tree.number(file);
  if (!number) return number.error();
  all.push_back({std::move(*number), std::move(value)});
  return {};
}

Status writeAll(const std::vector<Shown>& all, const Bench& bench) {
  for (const Shown& shown : all) {
    if (Status written = shown.file->write(std::llround(shown.value(bench))); !written) return written;
  }
  return {};
}

/// Files that only show.
class ShowingPart : public StandInPart {
 public:
  std::vector<Shown> shown;
  Status write(const Bench& bench) override { return writeAll(shown, bench); }
};

/// powercap: the package's counter, its limits as knobs. Documentation/power/powercap/powercap.rst.
class PowerZone : public StandInPart {
 public:
  static Part create(const FileTree& tree, const Bench& bench, size_t device, int number, double speed) {
    auto zone = std::make_unique<PowerZone>();
    zone->m_device = device;
    const std::string folder = fmt::format("sys/devices/virtual/powercap/intel-rapl/intel-rapl:{}", number);
    const DeviceSpec& spec = bench.spec().devices[device];
    const auto limitUw = [](double watts) { return std::llround(watts * 1e6); };
    const double mostW = std::max(spec.shortW, spec.sustainedW);
    Status made = tree.texts(folder, {{"name", fmt::format("package-{}", number)},
                                      {"enabled", "1"},
                                      {"max_energy_range_uj", std::to_string(kStandInEnergyRangeUj)}});
    if (made) made = tree.link(fmt::format("sys/class/powercap/intel-rapl:{}", number), folder);
    if (made)
      made = show(
          tree, folder + "/energy_uj",
          [device, speed](const Bench& now) {
            const double grownUj = now.energyJ(device) / speed * 1e6;
            return std::fmod(static_cast<double>(kStandInEnergyStartUj) + grownUj,
                             static_cast<double>(kStandInEnergyRangeUj) + 1);
          },
          zone->m_shown);
    if (made && spec.sustainedW > 0) {
      made = tree.texts(folder, {{"constraint_0_name", "long_term"},
                                 {"constraint_0_max_power_uw", std::to_string(limitUw(mostW))},
                                 {"constraint_1_max_power_uw", std::to_string(limitUw(mostW))},
                                 {"constraint_1_name", "short_term"},
                                 {"constraint_0_time_window_us", fmt::format("{:.0f}", spec.powerWindowS * 1e6)}});
      auto knob = NumberKnob::create(tree, folder + "/constraint_0_power_limit_uw", limitUw(spec.sustainedW));
      if (!knob) return knob.error();
      auto shortKnob = NumberKnob::create(tree, folder + "/constraint_1_power_limit_uw", limitUw(spec.shortW));
      if (!shortKnob) return shortKnob.error();
      zone->m_limit = std::move(*knob);
      zone->m_short = std::move(*shortKnob);
    }
    if (!made) return made.error();
    return std::unique_ptr<StandInPart>(std::move(zone));
  }
  // As firmware does: nothing below 3 W, nothing above what the short limit was at the start; the short limit follows.
  Status turn(Bench& bench) override {
    if (!m_limit) return {};
    const auto watts = [&](long long askedUw) {
      const double mostW = std::max(bench.given().devices[m_device].shortW, bench.given().devices[m_device].sustainedW);
      return std::clamp(static_cast<double>(askedUw) / 1e6, kStandInLeastW, mostW);
    };
    const auto sustained = m_limit->take();
    if (sustained) bench.setPowerLimit(m_device, watts(*sustained));
    const auto forAMoment = m_short->take();
    if (forAMoment) bench.setShortLimit(m_device, watts(*forAMoment));
    if (!sustained && !forAMoment) return {};
    const DeviceSpec& now = bench.spec().devices[m_device];
    if (Status answered = m_limit->answer(std::llround(now.sustainedW * 1e6)); !answered) return answered;
    return m_short->answer(std::llround(now.shortW * 1e6));
  }
  Status write(const Bench& bench) override { return writeAll(m_shown, bench); }

 private:
  size_t m_device = 0;
  std::vector<Shown> m_shown;
  std::unique_ptr<NumberKnob> m_limit, m_short;
};

/// gpu_metrics of a card, revision 1.3: the chip-independent throttle bits (core/readings/kernel/gpu_metrics.h).
class CardMetrics : public StandInPart {
 public:
  static Part create(const FileTree& tree, size_t device, const std::string& folder) {
    auto part = std::make_unique<CardMetrics>();
    part->m_device = device;
    part->m_path = tree.path(folder + "/gpu_metrics");
    return std::unique_ptr<StandInPart>(std::move(part));
  }
  Status write(const Bench& bench) override {
    std::array<unsigned char, 120> table{};
    table[0] = 120;
    table[2] = 1;
    table[3] = 3;
    if (bench.heldBy(m_device) == HeldBy::Power) table[112] = 1;      // bit 0: power
    if (bench.heldBy(m_device) == HeldBy::Heat) table[116] = 1 << 4;  // bit 36: hotspot
    const int file = ::open(m_path.c_str(), O_WRONLY | O_CREAT | O_CLOEXEC, 0644);
    if (file < 0) return Error::io("write", m_path, errno);
    const bool isWhole = ::pwrite(file, table.data(), table.size(), 0) == static_cast<ssize_t>(table.size());
    const int error = errno;
    ::close(file);
    return isWhole ? Status() : Status(Error::io("write", m_path, error));
  }

 private:
  size_t m_device = 0;
  std::string m_path;
};

Part makeThermal(const FileTree& tree, const Bench& bench) {
  auto part = std::make_unique<ShowingPart>();
  const DeviceSpec& cpu = bench.spec().devices[0];
  const std::string zone = "sys/devices/virtual/thermal/thermal_zone0",
                    cooler = "sys/devices/virtual/thermal/cooling_device0";
  Status made = tree.texts(zone, {{"type", "x86_pkg_temp"},
                                  {"mode", "enabled"},
                                  {"policy", "step_wise"},
                                  {"trip_point_0_type", "passive"},
                                  {"trip_point_0_temp", fmt::format("{:.0f}", cpu.throttleC * 1000)},
                                  {"trip_point_1_type", "critical"},
                                  {"trip_point_1_temp", fmt::format("{:.0f}", cpu.criticalC * 1000)}});
  if (made) made = tree.texts(cooler, {{"type", "Processor"}, {"max_state", "3"}});
  if (made) made = tree.link("sys/class/thermal/thermal_zone0", zone);
  if (made) made = tree.link("sys/class/thermal/cooling_device0", cooler);
  // Whole degrees, as the package's register has them.
  if (made)
    made = show(
        tree, zone + "/temp", [](const Bench& now) { return std::round(now.nodeC(now.spec().devices[0].node)) * 1000; },
        part->shown);
  if (made)
    made = show(
        tree, cooler + "/cur_state", [](const Bench& now) { return now.heldBy(0) == HeldBy::Heat ? 1.0 : 0.0; },
        part->shown);
  if (!made) return made.error();
  return std::unique_ptr<StandInPart>(std::move(part));
}

Part makeThrottleCounts(const FileTree& tree, int cpus, double speed) {
  auto part = std::make_unique<ShowingPart>();
  Status made;
  for (int cpu = 0; cpu < cpus && made; ++cpu) {
    const std::string folder = fmt::format("sys/devices/system/cpu/cpu{}", cpu);
    made = tree.texts(folder, {{"topology/physical_package_id", "0"}, {"topology/core_id", std::to_string(cpu)}});
    for (const char* what : {"core", "package"}) {
      const std::string stem = fmt::format("{}/thermal_throttle/{}_throttle_", folder, what);
      if (made)
        made = show(
            tree, stem + "count", [](const Bench& now) { return static_cast<double>(now.heatEvents(0)); }, part->shown);
      if (made)
        made = show(
            tree, stem + "total_time_ms", [speed](const Bench& now) { return now.heatS(0) / speed * 1000; },
            part->shown);
    }
  }
  if (!made) return made.error();
  return std::unique_ptr<StandInPart>(std::move(part));
}

// On battery all the time: what the wall would have to give comes from it.
Part makeBattery(const FileTree& tree, const Bench& bench, double speed) {
  auto part = std::make_unique<ShowingPart>();
  const std::string battery = "sys/class/power_supply/BAT0";
  const double fullUwh = bench.spec().batteryWh * 1e6;
  // Energy drawn since the start in µWh, integrated where the files are written.
  auto drawnUwh = std::make_shared<double>(0);
  auto lastS = std::make_shared<double>(0);
  const auto left = [=](const Bench& now) {
    *drawnUwh += now.wallPowerW() * (now.timeS() - *lastS) / speed / 3600 * 1e6;
    *lastS = now.timeS();
    return std::max(0.0, fullUwh - *drawnUwh);
  };
  Status made = tree.texts(battery, {{"type", "Battery"},
                                     {"status", "Discharging"},
                                     {"present", "1"},
                                     {"model_name", "stand-in"},
                                     {"energy_full", fmt::format("{:.0f}", fullUwh)},
                                     {"voltage_now", "15200000"}});
  if (made) made = tree.texts("sys/class/power_supply/AC", {{"type", "Mains"}, {"online", "0"}});
  if (made) made = show(tree, battery + "/energy_now", left, part->shown);
  if (made)
    made = show(
        tree, battery + "/capacity",
        [=](const Bench&) { return std::floor(100 * std::max(0.0, 1 - *drawnUwh / fullUwh)); }, part->shown);
  if (made)
    made = show(
        tree, battery + "/power_now", [](const Bench& now) { return now.wallPowerW() * 1e6; }, part->shown);
  if (!made) return made.error();
  return std::unique_ptr<StandInPart>(std::move(part));
}

Part makeCard(const FileTree& tree, const Bench& bench, size_t device, const std::string& folder) {
  auto part = std::make_unique<ShowingPart>();
  Status made = tree.texts(folder, {{"product_name", bench.spec().name + " graphics"},
                                    {"class", "0x030000"},
                                    {"current_link_speed", "16.0 GT/s PCIe"},
                                    {"max_link_speed", "16.0 GT/s PCIe"},
                                    {"current_link_width", "16"},
                                    {"max_link_width", "16"},
                                    {"power/runtime_status", "active"},
                                    {"mem_info_vram_total", "8589934592"},
                                    {"drm/card0/dev", "226:0"}});
  if (made) made = tree.link(folder + "/drm/card0/device", folder);
  if (made) made = tree.link("sys/class/drm/card0", folder + "/drm/card0");
  if (made) made = tree.link("sys/bus/pci/devices/0000:01:00.0", folder);
  if (made)
    made = show(
        tree, folder + "/gpu_busy_percent", [device](const Bench& now) { return 100 * now.activity(device); },
        part->shown);
  if (made)
    made = show(
        tree, folder + "/mem_info_vram_used", [device](const Bench& now) { return 4e8 + 5e9 * now.activity(device); },
        part->shown);
  if (!made) return made.error();
  return std::unique_ptr<StandInPart>(std::move(part));
}

Status writeStillTexts(const FileTree& tree, const std::string& name) {
  return tree.texts(
      "", {{"proc/cpuinfo", "processor\t: 0\nmodel name\t: " + name + " processor\n"},
           {"proc/meminfo", "MemTotal:       16777216 kB\nMemFree:         9437184 kB\nMemAvailable:   12582912 kB"},
           {"sys/class/dmi/id/board_name", name + " board"},
           {"sys/class/dmi/id/bios_version", "1.00"}});
}

}  // namespace

Result<std::vector<std::unique_ptr<StandInPart>>> makeStandInParts(const FileTree& tree, const Bench& bench,
                                                                   double speed) {
  std::vector<std::unique_ptr<StandInPart>> parts;
  Status trouble = writeStillTexts(tree, bench.spec().name);
  const auto add = [&](Part part) {
    if (!part)
      trouble = part.error();
    else
      parts.push_back(std::move(*part));
  };
  const auto& devices = bench.spec().devices;
  const int cpus = devices.empty() ? 0 : std::max(1, static_cast<int>(devices[0].units));
  if (!devices.empty()) {
    add(PowerZone::create(tree, bench, 0, 0, speed));
    add(makeClockKnobs(tree, bench, cpus));
    add(makeThermal(tree, bench));
    add(makeThrottleCounts(tree, cpus, speed));
  }
  for (size_t d = 1; d < devices.size(); ++d) {
    if (devices[d].name != "gpu") continue;
    const std::string folder = "sys/devices/pci0000:00/0000:01:00.0";
    add(makeCard(tree, bench, d, folder));
    add(CardMetrics::create(tree, d, folder));
  }
  if (bench.spec().batteryWh > 0) add(makeBattery(tree, bench, speed));
  if (!trouble) return trouble.error();
  return parts;
}

}  // namespace ash::sim
