// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/watch/machine_settings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>

#include "model/cpu_list.h"
#include "model/number_text.h"
#include "readings/gauges/root_path.h"
#include "readings/kernel/found.h"
#include "readings/kernel/pci_links.h"
#include "readings/kernel/powercap_zones.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

/// Collects settings; what cannot be read is left out.
class Collector {
 public:
  explicit Collector(std::string root) : m_root(std::move(root)) {}
  std::vector<MachineSetting> take() { return std::move(m_settings); }

  void text(const std::string& key, const std::string& words, const std::string& file, bool matters = true) {
    const std::string value = readWords(m_root + file);
    if (!value.empty()) add(key, words, value, "", matters);
  }
  void number(const std::string& key, const std::string& words, const fs::path& file, double divisor,
              const char* unit) {
    if (const auto raw = readNumber(file)) add(key, words, static_cast<double>(*raw) / divisor, unit, true);
  }
  void add(const std::string& key, const std::string& words, Json value, const std::string& unit, bool matters) {
    m_settings.push_back({key, words, std::move(value), unit, matters});
  }
  const std::string& root() const { return m_root; }

 private:
  std::string m_root;
  std::vector<MachineSetting> m_settings;
};

// A text that all policies share as it is, else each with its CPUs: "performance (CPU 0-7), powersave (CPU 8-11)".
void addPolicies(Collector& all, const char* key, const char* words, const char* file, double divisor,
                 const char* unit) {
  std::map<std::string, std::vector<int>> cpusOf;
  std::vector<std::string> order;
  for (const auto& [number, folder] : numberedEntries(all.root() + "/sys/devices/system/cpu/cpufreq", "policy")) {
    const std::string value = readWords(folder / file);
    if (value.empty()) continue;
    std::vector<int>& cpus = cpusOf[value];
    if (cpus.empty()) order.push_back(value);
    const auto members = parseCpuList(readWords(folder / "affected_cpus"));
    cpus.insert(cpus.end(), members.begin(), members.end());
  }
  if (order.empty()) return;
  const auto shown = [&](const std::string& value) {
    const auto number = parseKernelInteger(value);
    return divisor > 0 && number ? withUnit(static_cast<double>(*number) / divisor, 0, unit) : value;
  };
  const auto number = parseKernelInteger(order.front());
  if (order.size() == 1 && divisor > 0 && number) {
    all.add(key, words, static_cast<double>(*number) / divisor, unit, true);
    return;
  }
  std::string value = shown(order.front());
  if (order.size() > 1) {
    value.clear();
    for (const std::string& one : order)
      value += fmt::format("{}{} (CPU {})", value.empty() ? "" : ", ", shown(one), cpuListText(cpusOf[one]));
  }
  all.add(key, words, value, "", true);
}

void addProcessor(Collector& all) {
  const std::string cpu = "/sys/devices/system/cpu/";
  addPolicies(all, "cpu.driver", "Clock driver", "scaling_driver", 0, "");
  addPolicies(all, "cpu.governor", "Governor", "scaling_governor", 0, "");
  addPolicies(all, "cpu.energy_preference", "Energy preference", "energy_performance_preference", 0, "");
  addPolicies(all, "cpu.clock_min_mhz", "Lowest clock allowed", "scaling_min_freq", 1000, "MHz");
  addPolicies(all, "cpu.clock_max_mhz", "Highest clock allowed", "scaling_max_freq", 1000, "MHz");
  if (const auto boost = readNumber(all.root() + cpu + "cpufreq/boost"))
    all.add("cpu.boost", "Boost", *boost != 0 ? "on" : "off", "", true);
  if (const auto off = readNumber(all.root() + cpu + "intel_pstate/no_turbo"))
    all.add("cpu.boost", "Boost", *off == 0 ? "on" : "off", "", true);
  all.number("cpu.max_perf_percent", "Highest performance allowed", all.root() + cpu + "intel_pstate/max_perf_pct", 1,
             "%");
  all.number("cpu.min_perf_percent", "Lowest performance allowed", all.root() + cpu + "intel_pstate/min_perf_pct", 1,
             "%");
  all.text("cpu.driver_state", "Clock driver's mode", cpu + "amd_pstate/status");
  all.text("cpu.driver_state", "Clock driver's mode", cpu + "intel_pstate/status");
  if (const auto smt = readNumber(all.root() + cpu + "smt/active"))
    all.add("cpu.threads_per_core", "Several threads per core", *smt != 0 ? "on" : "off", "", true);
  all.text("cpu.online", "CPUs on line", cpu + "online");
  all.text("platform_profile", "Platform profile", "/sys/firmware/acpi/platform_profile");
}

void addPowerLimits(Collector& all) {
  std::vector<fs::path> zones;
  std::error_code error;
  for (fs::directory_iterator it(all.root() + "/sys/class/powercap", error), end; !error && it != end;
       it.increment(error))
    zones.push_back(it->path());
  std::sort(zones.begin(), zones.end());
  for (const fs::path& zone : zones) {
    const std::string name = readWords(zone / "name");
    if (name.empty()) continue;
    const bool isTwin = zone.filename().string().find("-mmio") != std::string::npos;
    for (int c = 0; c < 16; ++c) {
      const std::string stem = fmt::format("constraint_{}", c);
      const std::string limit = readWords(zone / (stem + "_name"));
      if (limit.empty()) break;
      const std::string plain = powerLimitName(limit);
      const std::string key = fmt::format("power_limit.{}{}.{}", name, isTwin ? ".second" : "", plain);
      const std::string words = fmt::format("Power limit ({}) of {}{}", plain, name, isTwin ? ", second way" : "");
      all.number(key + "_w", words, zone / (stem + "_power_limit_uw"), 1e6, "W");
      all.number(key + "_window_s", "Time window of the " + words, zone / (stem + "_time_window_us"), 1e6, "s");
    }
  }
}

std::string fanMode(int64_t enable) {
  if (enable == 0) return "full speed";
  return enable == 1 ? "by hand" : fmt::format("automatic ({})", enable);
}

// The points of an automatic fan: "40 °C 30 %, 60 °C 55 %" (pwmN_auto_pointM_temp, _pwm).
std::string fanCurve(const fs::path& folder, const std::string& pwm) {
  std::string curve;
  for (int point = 1; point <= 16; ++point) {
    const std::string stem = fmt::format("{}_auto_point{}", pwm, point);
    const auto duty = readNumber(folder / (stem + "_pwm"));
    const auto milli = readNumber(folder / (stem + "_temp"));
    if (!duty || !milli) continue;
    curve += fmt::format("{}{:g} °C {:.0f} %", curve.empty() ? "" : ", ", static_cast<double>(*milli) / 1000,
                         static_cast<double>(*duty) / 2.55);
  }
  return curve;
}

void addFans(Collector& all, const fs::path& folder, const std::string& chip, const std::string& words) {
  for (const auto& [number, file] : numberedEntries(folder, "pwm")) {
    const std::string pwm = fmt::format("pwm{}", number);
    const std::string key = fmt::format("fan.{}.{}", chip, pwm);
    const std::string fan = fmt::format("Fan {} of {}", number, words);
    const auto enable = readNumber(folder / (pwm + "_enable"));
    if (enable) all.add(key + ".mode", fan + ", control", fanMode(*enable), "", true);
    if (enable == 1) {
      if (const auto duty = readNumber(folder / pwm))
        all.add(key + ".duty_percent", fan + ", duty", std::round(static_cast<double>(*duty) / 2.55), "%", true);
    }
    if (const auto mode = readNumber(folder / (pwm + "_mode")))
      all.add(key + ".drive", fan + ", driven by", *mode == 0 ? "voltage" : "pulse width", "", true);
    if (const std::string curve = fanCurve(folder, pwm); !curve.empty())
      all.add(key + ".curve", fan + ", curve", curve, "", true);
  }
}

void addChips(Collector& all) {
  std::map<std::string, int> seen;
  std::vector<fs::path> folders;
  for (const auto& [number, entry] : numberedEntries(all.root() + "/sys/class/hwmon", "hwmon")) {
    std::error_code error;
    if (const fs::path folder = fs::canonical(entry, error); !error) folders.push_back(folder);
  }
  std::sort(folders.begin(), folders.end());
  for (const fs::path& folder : folders) {
    const std::string driver = readWords(folder / "name");
    const int count = ++seen[driver];
    const std::string chip = count == 1 ? driver : fmt::format("{}.{}", driver, count);
    addFans(all, folder, chip, driver);
    all.number(fmt::format("power_limit.{}_w", chip), "Power limit of " + driver, folder / "power1_cap", 1e6, "W");
  }
}

void addGraphics(Collector& all) {
  for (const auto& [number, card] : numberedEntries(all.root() + "/sys/class/drm", "card")) {
    const std::string place = pciPlace(pathBelowRoot(all.root(), card / "device"));
    const std::string key = "gpu." + (place.empty() ? std::to_string(number) : place.substr(5));
    const std::string level = readWords(card / "device/power_dpm_force_performance_level");
    if (!level.empty())
      all.add(key + ".performance_level", "Performance level of the graphics, " + place, level, "", true);
    const auto lowest = readNumber(card / "gt/gt0/rps_min_freq_mhz"),
               highest = readNumber(card / "gt/gt0/rps_max_freq_mhz");
    if (lowest && highest)
      all.add(key + ".clocks", "Clocks allowed to the graphics, " + place,
              fmt::format("{} to {} MHz", *lowest, *highest), "", true);
  }
}

void addLinks(Collector& all) {
  std::vector<fs::path> folders;
  std::error_code error;
  for (fs::directory_iterator it(all.root() + "/sys/bus/pci/devices", error), end; !error && it != end;
       it.increment(error))
    folders.push_back(it->path());
  std::sort(folders.begin(), folders.end());
  for (const fs::path& folder : folders) {
    const std::string code = readWords(folder / "class");
    if (!code.starts_with("0x01") && !code.starts_with("0x03")) continue;
    const auto width = readNumber(folder / "current_link_width");
    if (!width || *width <= 0) continue;
    const std::string address = folder.filename().string();
    const std::string what = code.starts_with("0x03") ? "graphics" : "drive";
    all.add("pcie." + address + ".lanes", fmt::format("PCIe lanes of the {} at {}", what, address), *width, "", true);
    const std::string speed = readWords(folder / "current_link_speed");
    // A card lowers its speed by itself while it rests.
    if (!speed.empty())
      all.add("pcie." + address + ".speed", fmt::format("PCIe speed of the {} at {}", what, address), speed, "", false);
  }
}

void addVersions(Collector& all) {
  all.text("kernel", "Kernel", "/proc/sys/kernel/osrelease", false);
  all.text("firmware", "Firmware", "/sys/class/dmi/id/bios_version", false);
  all.text("firmware_date", "Firmware's date", "/sys/class/dmi/id/bios_date", false);
  const std::string cpuinfo = readSmallFile(all.root() + "/proc/cpuinfo").value_or("");
  if (const size_t at = cpuinfo.find("\nmicrocode"); at != std::string::npos) {
    const size_t colon = cpuinfo.find(": ", at), end = cpuinfo.find('\n', at + 1);
    if (colon < end) all.add("cpu.microcode", "Microcode", cpuinfo.substr(colon + 2, end - colon - 2), "", false);
  }
  for (const auto& [number, folder] : numberedEntries(all.root() + "/sys/class/nvme", "nvme")) {
    const std::string revision = readWords(folder / "firmware_rev"), serial = readWords(folder / "serial");
    if (!revision.empty())
      all.add("drive." + (serial.empty() ? std::to_string(number) : serial) + ".firmware",
              "Firmware of the drive " + readWords(folder / "model"), revision, "", false);
  }
  for (const auto& [number, folder] : numberedEntries(all.root() + "/sys/class/thermal", "thermal_zone"))
    if (const std::string policy = readWords(folder / "policy"); !policy.empty())
      all.add(fmt::format("zone.{}.{}.policy", readWords(folder / "type"), number),
              "Policy of the zone " + readWords(folder / "type"), policy, "", true);
}

struct Asked {
  const char* condition;
  const char* words;
  const char* unit;
  // Where the answer stands: a key, or the end of one when it begins with ".".
  const char* start;
  const char* end;
};
constexpr Asked kAsked[] = {{"power_limit_w", "a power limit", "W", "power_limit.package-0", ".sustained_w"},
                            {"governor", "the governor", "", "cpu.governor", ""},
                            {"energy_preference", "the energy preference", "", "cpu.energy_preference", ""},
                            {"boost", "boost", "", "cpu.boost", ""},
                            {"platform_profile", "the platform profile", "", "platform_profile", ""},
                            {"fan_duty", "a fan duty", "%", "fan.", ".duty_percent"}};

bool isAsAsked(const Json& asked, const Json& got) {
  if (asked.is_number() && got.is_number())
    return std::abs(asked.get<double>() - got.get<double>()) <= 0.02 * std::abs(asked.get<double>()) + 0.5;
  if (asked.is_boolean() && got.is_string()) return asked.get<bool>() == (got.get<std::string>() == "on");
  return asked == got;
}

std::string settingText(const Json& value, const std::string& unit) {
  if (value.is_boolean()) return value.get<bool>() ? "on" : "off";
  if (value.is_number()) return withUnit(value.get<double>(), std::fmod(value.get<double>(), 1) == 0 ? 0 : 1, unit);
  return value.is_string() ? value.get<std::string>() : jsonText(value);
}

}  // namespace

std::vector<MachineSetting> readMachineSettings(const std::string& root) {
  Collector all(root);
  addProcessor(all);
  addPowerLimits(all);
  addChips(all);
  addGraphics(all);
  addLinks(all);
  addVersions(all);
  return all.take();
}

Json settingsToJson(const std::vector<MachineSetting>& settings) {
  Json json = Json::object();
  for (const MachineSetting& setting : settings) json[setting.key] = setting.value;
  return json;
}

std::string settingText(const MachineSetting* setting) {
  return setting == nullptr ? "none" : settingText(setting->value, setting->unit);
}

std::vector<std::string> notAsAsked(const Json& conditions, const std::vector<MachineSetting>& settings) {
  std::vector<std::string> sentences;
  for (const Asked& row : kAsked) {
    const Json asked = valueIn(conditions, row.condition, Json());
    if (asked.is_null()) continue;
    const MachineSetting* answer = nullptr;
    bool isMet = false;
    for (const MachineSetting& setting : settings) {
      if (!setting.key.starts_with(row.start) || !setting.key.ends_with(row.end)) continue;
      if (answer == nullptr) answer = &setting;
      isMet |= isAsAsked(asked, setting.value);
    }
    if (answer == nullptr || isMet) continue;
    sentences.push_back(fmt::format("Asked for {} of {}; the machine has {}.", row.words, settingText(asked, row.unit),
                                    settingText(answer->value, row.unit)));
  }
  return sentences;
}

}  // namespace ash
