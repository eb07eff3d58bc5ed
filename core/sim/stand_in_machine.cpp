// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in_machine.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <filesystem>
#include <fstream>

#include "sim/stand_in_knobs.h"

namespace ash::sim {
namespace fs = std::filesystem;
namespace {

// No files of any kernel: what instruments beside it would show.
constexpr char kWallFile[] = "wall/power_mw", kRoomFile[] = "room/temp_mc";
constexpr const char* kMarker = "stand-in-machine.txt";

std::optional<double> thousandthsIn(const fs::path& path) {
  std::ifstream file(path);
  double thousandths = 0;
  if (!(file >> thousandths)) return std::nullopt;
  return thousandths / 1000;
}

/// Where a role's sensor stands in the tree, and how the kernel would label it.
struct Place {
  std::string_view role;
  std::string_view chip;  // folder of the device
  std::string_view driver;
  std::string_view file;  // attribute without its suffix
  std::string_view suffix;
  std::string_view label;
  double scale;
};

constexpr std::string_view kProcessor = "sys/devices/pci0000:00/0000:00:18.3";
constexpr std::string_view kCard = "sys/devices/pci0000:00/0000:01:00.0";
constexpr std::string_view kBoard = "sys/devices/platform/board.656";
constexpr std::string_view kDrive = "sys/devices/pci0000:00/0000:02:00.0/nvme/nvme0";
constexpr std::string_view kMeter = "sys/devices/platform/meter.0";

constexpr Place kPlaces[] = {
    {"cpu.temp", kProcessor, "k10temp", "temp1", "_input", "Tctl", 1e3},
    {"gpu.temp", kCard, "amdgpu", "temp1", "_input", "edge", 1e3},
    {"gpu.power", kCard, "amdgpu", "power1", "_average", "PPT", 1e6},
    {"gpu.clock", kCard, "amdgpu", "freq1", "_input", "sclk", 1e6},
    {"board.temp.vrm", kBoard, "board", "temp1", "_input", "VRM", 1e3},
    {"case.temp", kBoard, "board", "temp2", "_input", "Case", 1e3},
    {"room.temp", kBoard, "board", "temp3", "_input", "Room", 1e3},
    {"storage.temp", kDrive, "nvme", "temp1", "_input", "Composite", 1e3},
    {"wall.power", kMeter, "power_meter", "power1", "_average", "", 1e6},
};

int chipNumber(const std::vector<std::string>& chips, std::string_view place) {
  const auto found = std::find(chips.begin(), chips.end(), place);
  return static_cast<int>(found - chips.begin());
}

}  // namespace

StandInMachine::StandInMachine(const std::string& folder, BenchSpec spec, uint64_t seed)
    : m_tree(folder), m_bench(std::move(spec), seed) {
  if (!m_bench.spec().devices.empty()) m_cpuCount = std::max(1, static_cast<int>(m_bench.spec().devices[0].units));
}

Result<std::unique_ptr<StandInMachine>> StandInMachine::create(const std::string& folder, BenchSpec spec, uint64_t seed,
                                                               double speed) {
  std::error_code error;
  if (fs::exists(folder, error) && !fs::is_empty(folder, error)) {
    if (!fs::exists(fs::path(folder) / kMarker, error)) {
      return Error::badInput(fmt::format("{} is not empty and no stand-in machine; give a new folder.", folder));
    }
    fs::remove_all(fs::path(folder) / "sys", error);
    fs::remove_all(fs::path(folder) / "proc", error);
  }
  std::unique_ptr<StandInMachine> machine(new StandInMachine(folder, std::move(spec), seed));
  if (Status written = machine->writeTexts(); !written) return written.error();
  for (size_t s = 0; s < machine->m_bench.spec().sensors.size(); ++s) {
    if (Status added = machine->addSensor(s); !added) return added.error();
  }
  if (Status added = machine->addCardKnobs(); !added) return added.error();
  auto parts = makeStandInParts(machine->m_tree, machine->m_bench, speed);
  if (!parts) return parts.error();
  for (auto& part : *parts) machine->m_parts.push_back(std::move(part));
  for (const auto& [file, where] : {std::pair(kWallFile, &machine->m_wall), std::pair(kRoomFile, &machine->m_room)}) {
    auto made = machine->m_tree.number(file);
    if (!made) return made.error();
    *where = std::move(*made);
  }
  if (Status first = machine->update(0, "", 0); !first) return first.error();
  return machine;
}

Status StandInMachine::writeTexts() {
  const std::pair<const char*, std::string> texts[] = {
      {kMarker, "Simulated machine \"" + m_bench.spec().name + "\"; made by ashg stand-in machine."},
      {"proc/sys/kernel/hostname", m_bench.spec().name},
      {"proc/sys/kernel/osrelease", "6.1.0-stand-in"},
      {"proc/sys/kernel/random/boot_id", "00000000-0000-4000-8000-000000000000"}};
  for (const auto& [file, text] : texts) {
    if (Status written = m_tree.text(file, text); !written) return written;
  }
  return {};
}

Status StandInMachine::addChip(const std::string& place, const std::string& name, int number) {
  const std::string chip = fmt::format("{}/hwmon/hwmon{}", place, number);
  if (Status written = m_tree.text(chip + "/name", name); !written) return written;
  if (Status linked = m_tree.link(fmt::format("sys/class/hwmon/hwmon{}", number), chip); !linked) return linked;
  if (Status linked = m_tree.link(chip + "/device", place); !linked) return linked;
  m_chips.push_back(place);
  return {};
}

Result<std::string> StandInMachine::chipAt(const std::string& place, const std::string& driver) {
  if (std::find(m_chips.begin(), m_chips.end(), place) == m_chips.end()) {
    if (Status added = addChip(place, driver, static_cast<int>(m_chips.size())); !added) return added.error();
  }
  return fmt::format("{}/hwmon/hwmon{}", place, chipNumber(m_chips, place));
}

Status StandInMachine::addCardKnobs() {
  const auto& devices = m_bench.spec().devices;
  const auto card =
      std::find_if(devices.begin(), devices.end(), [](const DeviceSpec& one) { return one.name == "gpu"; });
  if (card == devices.end()) return {};
  const std::string folder(kCard);
  const auto chip = chipAt(folder, "amdgpu");
  if (!chip) return chip.error();
  auto knobs =
      makeCardKnobs(m_tree, m_bench, static_cast<size_t>(card - devices.begin()), folder + "/drm/card0", *chip);
  if (!knobs) return knobs.error();
  m_parts.push_back(std::move(*knobs));
  return {};
}

Status StandInMachine::addGauge(const std::string& file, size_t sensor, double scale) {
  auto number = m_tree.number(file);
  if (!number) return number.error();
  m_gauges.push_back({sensor, scale, std::move(*number)});
  return {};
}

Status StandInMachine::addClock(size_t sensor) {
  const DeviceSpec& device = m_bench.spec().devices[m_bench.spec().sensors[sensor].index];
  for (int cpu = 0; cpu < m_cpuCount; ++cpu) {
    const std::string policy = fmt::format("sys/devices/system/cpu/cpufreq/policy{}", cpu);
    const std::pair<const char*, std::string> texts[] = {
        {"scaling_driver", "stand-in"},
        {"affected_cpus", std::to_string(cpu)},
        {"cpuinfo_min_freq", fmt::format("{:.0f}", device.minMhz * 1000)},
        {"cpuinfo_max_freq", fmt::format("{:.0f}", device.maxMhz * 1000)}};
    for (const auto& [file, text] : texts) {
      if (Status written = m_tree.text(policy + "/" + file, text); !written) return written;
    }
    if (Status added = addGauge(policy + "/scaling_cur_freq", sensor, 1e3); !added) return added;
  }
  return {};
}

Status StandInMachine::addSensor(size_t sensor) {
  const SensorSpec& spec = m_bench.spec().sensors[sensor];
  if (spec.role == roles::kCpuClock) return addClock(sensor);
  if (spec.probe == Probe::FanDuty) return {};  // its knob shows it (stand_in_parts.h)
  Place place{};
  std::string label;
  for (const Place& candidate : kPlaces) {
    if (spec.role == candidate.role) place = candidate;
  }
  label = place.label;
  std::string attribute(place.file);
  if (spec.probe == Probe::FanSpeed) {
    place = {spec.role.text(), kBoard, "board", "", "_input", "", 1};
    attribute = fmt::format("fan{}", spec.index + 1);
    label = m_bench.spec().fans[spec.index].name;
  }
  if (attribute.empty()) return {};  // nothing in the kernel shows such a reading
  const auto chip = chipAt(std::string(place.chip), std::string(place.driver));
  if (!chip) return chip.error();
  const std::string stem = *chip + "/" + attribute;
  if (!label.empty() && !place.suffix.empty()) {
    if (Status written = m_tree.text(stem + "_label", label); !written) return written;
  }
  if (spec.probe == Probe::FanSpeed) {
    auto knobs = makeFanKnobs(m_tree, m_bench, static_cast<size_t>(spec.index), *chip);
    if (!knobs) return knobs.error();
    m_parts.push_back(std::move(*knobs));
  }
  const auto limit = [&](const char* suffix, double value) -> Status {
    if (value <= 0 || value >= 1000) return {};
    return m_tree.text(stem + suffix, fmt::format("{:.0f}", value * place.scale));
  };
  if (spec.probe == Probe::NodeTemperature) {
    double throttle = m_bench.spec().nodes[spec.index].limitC, critical = m_bench.spec().nodes[spec.index].criticalC;
    for (const DeviceSpec& device : m_bench.spec().devices) {
      if (device.node != spec.index) continue;
      throttle = device.throttleC;
      critical = device.criticalC;
    }
    const bool isCard = place.chip == kCard;
    if (Status written = limit(isCard ? "_crit" : "_max", throttle); !written) return written;
    if (Status written = limit(isCard ? "_emergency" : "_crit", critical); !written) return written;
  }
  return addGauge(stem + std::string(place.suffix), sensor, place.scale);
}

Status StandInMachine::writeStat() {
  const double busyShare = m_bench.spec().devices.empty() ? 0 : m_bench.activity(0);
  const double ticks = (m_bench.timeS() - m_lastS) * 100;
  m_lastS = m_bench.timeS();
  m_busyTicks += ticks * busyShare;
  m_idleTicks += ticks * (1 - busyShare);
  const auto line = [&](const std::string& name, double cpus) {
    return fmt::format("{} {:>16.0f} 0 0 {:>16.0f} 0 0 0 0 0 0\n", name, std::floor(m_busyTicks * cpus),
                       std::floor(m_idleTicks * cpus));
  };
  std::string text = line("cpu", m_cpuCount);
  for (int cpu = 0; cpu < m_cpuCount; ++cpu) text += line(fmt::format("cpu{}", cpu), 1);
  const std::string path = m_tree.path("proc/stat");
  const int descriptor = ::open(path.c_str(), O_WRONLY | O_CREAT | O_CLOEXEC, 0644);
  if (descriptor < 0) return Error::io("write", path, errno);
  const bool isWhole = ::pwrite(descriptor, text.data(), text.size(), 0) == static_cast<ssize_t>(text.size());
  const int error = errno;
  ::close(descriptor);
  return isWhole ? Status() : Status(Error::io("write", path, error));
}

Status StandInMachine::update(double benchS, const std::string& kind, double share) {
  if (share <= 0)
    m_bench.clearLoad();
  else if (!m_bench.setLoad(kind, share))
    m_bench.setLoad("vector", share);
  for (const auto& part : m_parts) {
    if (Status turned = part->turn(m_bench); !turned) return turned;
  }
  m_bench.advanceTo(benchS);
  for (Gauge& gauge : m_gauges) {
    const double value = m_bench.sense(gauge.sensor) * gauge.scale;
    if (Status written = gauge.file->write(std::llround(value)); !written) return written;
  }
  if (Status written = m_wall->write(std::llround(1000 * m_bench.wallPowerW())); !written) return written;
  if (Status written = m_room->write(std::llround(1000 * m_bench.roomC())); !written) return written;
  for (const auto& part : m_parts) {
    if (Status written = part->write(m_bench); !written) return written;
  }
  return writeStat();
}

std::optional<double> wallPowerOfStandIn(const std::string& folder) {
  return thousandthsIn(fs::path(folder) / kWallFile);
}

std::optional<double> roomOfStandIn(const std::string& folder) { return thousandthsIn(fs::path(folder) / kRoomFile); }

}  // namespace ash::sim
