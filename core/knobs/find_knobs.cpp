// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/find_knobs.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include <set>

#include "knobs/writable.h"
#include "model/role.h"
#include "model/text.h"
#include "readings/gauges/root_path.h"
#include "readings/gauges/sysfs_file.h"
#include "readings/linux_machine.h"

namespace ash {
namespace {

namespace fs = std::filesystem;

constexpr double kUwPerW = 1e6, kKhzPerMhz = 1e3, kRawPerPercent = 2.55;
constexpr double kPowerStepW = 0.125;  // the unit of power limits of package zones
constexpr int kMostEntries = 4096;
constexpr char kForRoot[] = "Only root may turn it, or the helper where it is installed.";

/// Reads below a root.
class Tree {
 public:
  explicit Tree(std::string root) : m_root(std::move(root)) {}

  std::optional<std::string> text(const std::string& file) const { return readSmallFile(m_root + "/" + file); }
  std::optional<double> number(const std::string& file, double rawPerUnit = 1) const {
    const auto raw = text(file);
    const auto value = raw ? parseKernelInteger(*raw) : std::nullopt;
    return value ? std::optional(static_cast<double>(*value) / rawPerUnit) : std::nullopt;
  }
  bool exists(const std::string& file) const {
    std::error_code error;
    return fs::exists(m_root + "/" + file, error);
  }
  /// Why this process cannot write it; empty = it can.
  std::string refusal(const std::string& file) const {
    const std::string path = m_root + "/" + file;
    if (!isWritableFile(file)) return fmt::format("/{} is on no list of what may be written.", file);
    if (access(path.c_str(), W_OK) == 0) return {};
    return errno == EACCES || errno == EPERM ? kForRoot : fmt::format("/{} cannot be written.", file);
  }
  /// Entries of a folder whose names begin so, by their number.
  std::vector<std::string> entries(const std::string& folder, const std::string& begin) const {
    std::map<std::pair<long, std::string>, std::string> found;
    std::error_code error;
    int count = 0;
    for (fs::directory_iterator it(m_root + "/" + folder, error), end; !error && it != end; it.increment(error)) {
      const std::string name = it->path().filename().string();
      if (++count > kMostEntries) break;
      if (!name.starts_with(begin)) continue;
      const long number = std::strtol(name.c_str() + begin.size(), nullptr, 10);
      found[{number, name}] = pathBelowRoot(m_root, it->path());
    }
    std::vector<std::string> paths;
    for (const auto& [key, path] : found) paths.push_back(path);
    return paths;
  }
  std::vector<std::string> words(const std::string& file) const {
    std::vector<std::string> all;
    const std::string line = text(file).value_or("");
    for (const std::string_view word : splitText(line, ' ')) {
      if (!trimmed(word).empty()) all.emplace_back(trimmed(word));
    }
    return all;
  }

 private:
  std::string m_root;
};

/// Adds what it finds.
class KnobFinder {
 public:
  explicit KnobFinder(const std::string& root) : m_root(root), m_tree(root) {}

  std::vector<Knob> find() {
    readRoles();
    findPowerLimits();
    findClocks();
    findChips();
    findGraphicsClocks();
    return std::move(m_knobs);
  }

 private:
  void add(Knob knob) {
    std::vector<std::string> files = knob.files;
    if (!knob.modeFile.empty()) files.push_back(knob.modeFile);
    for (const std::string& file : files) {
      if (!knob.whyNot.empty()) break;
      knob.whyNot = m_tree.refusal(file);
      knob.isForRoot = knob.whyNot == kForRoot;
    }
    // Two controllers of one kind: the second has a number.
    const std::string id = knob.id;
    const auto isTaken = [&] {
      return std::any_of(m_knobs.begin(), m_knobs.end(), [&](const Knob& one) { return one.id == knob.id; });
    };
    for (int number = 2; isTaken(); ++number) {
      knob.id = id;
      knob.id.insert(id.rfind('.'), fmt::format("_{}", number));
    }
    m_knobs.push_back(std::move(knob));
  }

  // Zones package-0, package-1 … : long_term is the sustained limit, short_term the one for a moment.
  void findPowerLimits() {
    int package = 0;
    for (const std::string& zone : m_tree.entries("sys/class/powercap", "intel-rapl")) {
      if (!m_tree.text(zone + "/name").value_or("").starts_with("package") || zone.find("-mmio") != std::string::npos)
        continue;
      ++package;
      const std::string device = package == 1 ? "cpu" : fmt::format("cpu{}", package);
      for (int c = 0; c < 8; ++c) {
        const std::string stem = fmt::format("{}/constraint_{}_", zone, c);
        const std::string term = m_tree.text(stem + "name").value_or("");
        const bool isShort = term == "short_term";
        if (!isShort && term != "long_term") continue;
        Knob knob;
        knob.id = device + (isShort ? ".power.limit.short" : ".power.limit");
        knob.name = isShort ? "Processor power limit, for a moment" : "Processor power limit, sustained";
        knob.unit = "W";
        knob.files = {stem + "power_limit_uw"};
        knob.rawPerUnit = kUwPerW;
        knob.value = m_tree.number(knob.files[0], kUwPerW);
        knob.most = m_tree.number(stem + "max_power_uw", kUwPerW);
        // 0 means that it is not known (Documentation/power/powercap/powercap.rst).
        if (knob.most && *knob.most <= 0) knob.most.reset();
        knob.step = kPowerStepW;
        add(std::move(knob));
      }
    }
  }

  Knob clockKnob(const std::vector<std::string>& policies, bool isMost) const {
    Knob knob;
    knob.id = isMost ? "cpu.clock.most" : "cpu.clock.least";
    knob.name = isMost ? "Highest processor clock allowed" : "Lowest processor clock allowed";
    knob.unit = "MHz";
    knob.rawPerUnit = kKhzPerMhz;
    for (const std::string& policy : policies) {
      const std::string file = policy + (isMost ? "/scaling_max_freq" : "/scaling_min_freq");
      const auto now = m_tree.number(file, kKhzPerMhz);
      if (!now) continue;
      knob.files.push_back(file);
      const auto least = m_tree.number(policy + "/cpuinfo_min_freq", kKhzPerMhz),
                 most = m_tree.number(policy + "/cpuinfo_max_freq", kKhzPerMhz);
      // Clusters of cores differ: the widest range, each policy within its own.
      knob.value = !knob.value ? *now : isMost ? std::max(*knob.value, *now) : std::min(*knob.value, *now);
      if (least) knob.least = std::min(knob.least.value_or(*least), *least);
      if (most) knob.most = std::max(knob.most.value_or(*most), *most);
      knob.ranges.emplace_back(least.value_or(0), most.value_or(INFINITY));
    }
    knob.byDefault = isMost ? knob.most : knob.least;
    return knob;
  }

  // The words that every policy knows.
  void addChoice(const char* id, const char* name, const std::vector<std::string>& policies, const char* file,
                 const char* available, std::string whyNot = {}) {
    Knob knob;
    knob.id = id;
    knob.name = name;
    knob.whyNot = std::move(whyNot);
    std::set<std::string> now;
    for (const std::string& policy : policies) {
      const auto word = m_tree.text(policy + "/" + file);
      const auto words = m_tree.words(policy + "/" + available);
      if (!word || words.empty()) continue;
      now.insert(*word);
      if (knob.files.empty()) {
        for (const std::string& one : words) knob.choices.push_back({one, one});
      } else {
        std::erase_if(knob.choices, [&](const KnobChoice& one) {
          return std::find(words.begin(), words.end(), one.word) == words.end();
        });
      }
      knob.files.push_back(policy + "/" + file);
    }
    if (now.size() == 1) knob.choice = *now.begin();
    if (!knob.files.empty() && !knob.choices.empty()) add(std::move(knob));
  }

  void findClocks() {
    const auto policies = m_tree.entries("sys/devices/system/cpu/cpufreq", "policy");
    for (const bool isMost : {true, false}) {
      if (Knob knob = clockKnob(policies, isMost); !knob.files.empty()) add(std::move(knob));
    }
    addBoost("sys/devices/system/cpu/cpufreq/boost", "1", "0");
    addBoost("sys/devices/system/cpu/intel_pstate/no_turbo", "0", "1");
    addChoice("cpu.governor", "Processor governor", policies, "scaling_governor", "scaling_available_governors");
    const bool isHeld = !policies.empty() && m_tree.text(policies[0] + "/scaling_governor") == "performance";
    addChoice("cpu.preference", "Processor: work before energy", policies, "energy_performance_preference",
              "energy_performance_available_preferences",
              isHeld ? "It follows the governor while that is performance." : "");
  }

  void addBoost(const std::string& file, const char* on, const char* off) {
    const auto now = m_tree.text(file);
    if (!now) return;
    Knob knob;
    knob.id = "cpu.boost";
    knob.name = "Processor boost";
    knob.files = {file};
    knob.choices = {{"on", on}, {"off", off}};
    knob.choice = *now == on ? "on" : *now == off ? "off" : "";
    add(std::move(knob));
  }

  // What a chip's or a card's readings mean tells whose it is.
  void readRoles() {
    for (const auto& source : openLinuxMachine(m_root).sources) {
      for (const Reading& reading : source->info().readings) m_roles[reading.path] = reading.role;
    }
  }

  /// "gpu.power" for a folder below which a reading of the first graphics lies; empty where none of any lies.
  std::string graphicsRole(const std::string& folder, Quantity quantity) const {
    for (const auto& [path, role] : m_roles) {
      if (path.starts_with(folder + "/") && role.device().is(DeviceKind::Gpu))
        return Role(role.device(), quantity).text();
    }
    return {};
  }

  /// Whose card it is: its readings may lie beside it, in a chip of the device's.
  std::string deviceOf(const std::string& card) const {
    const std::string device = pathBelowRoot(m_root, fs::path(m_root.empty() ? "/" : m_root) / card / "device");
    return card.starts_with(device + "/") ? device : card;
  }

  void findChips() {
    for (const std::string& chip : m_tree.entries("sys/class/hwmon", "hwmon")) {
      findPowerCap(chip);
      findFans(chip);
    }
  }

  void findPowerCap(const std::string& chip) {
    const std::string file = chip + "/power1_cap", power = graphicsRole(chip, Quantity::Power);
    if (power.empty() || !m_tree.exists(file)) return;
    Knob knob;
    knob.id = power + ".limit";
    knob.name = "Graphics power limit";
    knob.unit = "W";
    knob.files = {file};
    knob.rawPerUnit = kUwPerW;
    knob.value = m_tree.number(file, kUwPerW);
    knob.byDefault = m_tree.number(file + "_default", kUwPerW);
    knob.least = m_tree.number(file + "_min", kUwPerW);
    knob.most = m_tree.number(file + "_max", kUwPerW);
    add(std::move(knob));
  }

  void findFans(const std::string& chip) {
    const std::string driver = m_tree.text(chip + "/name").value_or("chip");
    for (int number = 1; number <= 16; ++number) {
      const std::string file = fmt::format("{}/pwm{}", chip, number), mode = file + "_enable";
      if (!m_tree.number(file)) continue;
      const auto known = m_roles.find(file);
      const bool hasPlace = known != m_roles.end() && known->second.quantity() == Quantity::Percent;
      const std::string fan = hasPlace ? known->second.text().substr(0, known->second.text().rfind('.'))
                                       : fmt::format("fan.{}{}", driver, number);
      const auto modeNow = m_tree.text(mode);
      Knob duty;
      duty.id = fan + ".duty";
      duty.name = fmt::format("Duty of the fan {}", fan.substr(4));
      duty.unit = "%";
      duty.isFan = true;
      duty.files = {file};
      duty.rawPerUnit = kRawPerPercent;
      duty.value = m_tree.number(file, kRawPerPercent);
      duty.least = 0;
      duty.most = 100;
      duty.step = 1 / kRawPerPercent;
      if (modeNow) duty.modeFile = mode;
      add(std::move(duty));
      if (modeNow) addFanMode(fan, driver, mode, *modeNow);
    }
  }

  // 0 full speed, 1 by hand, from 2 on automatic, each driver with numbers of its own (sysfs-interface.rst).
  void addFanMode(const std::string& fan, const std::string& driver, const std::string& file, const std::string& now) {
    const bool isAutomatic = now.size() == 1 && now[0] >= '2';
    Knob knob;
    knob.id = fan + ".mode";
    knob.name = fmt::format("Control of the fan {}", fan.substr(4));
    knob.isFan = true;
    knob.files = {file};
    knob.choices = {{"full", "0"},
                    {"manual", "1"},
                    {"automatic", isAutomatic                  ? now
                                  : driver.starts_with("nct6") ? "5"
                                                               : "2"}};
    for (const KnobChoice& one : knob.choices) {
      if (one.raw == now) knob.choice = one.word;
    }
    add(std::move(knob));
  }

  void findGraphicsClocks() {
    for (const std::string& card : m_tree.entries("sys/class/drm", "card")) {
      const std::string gt = card + "/gt/gt0/", clock = graphicsRole(deviceOf(card), Quantity::Clock);
      if (clock.empty() || !m_tree.exists(gt + "rps_max_freq_mhz")) continue;
      Knob knob;
      knob.id = clock + ".most";
      knob.name = "Highest graphics clock allowed";
      knob.unit = "MHz";
      knob.files = {gt + "rps_max_freq_mhz"};
      knob.value = m_tree.number(knob.files[0]);
      knob.least = m_tree.number(gt + "rps_RPn_freq_mhz");
      knob.most = m_tree.number(gt + "rps_RP0_freq_mhz");
      knob.byDefault = knob.most;
      add(std::move(knob));
    }
  }

  std::string m_root;
  Tree m_tree;
  std::map<std::string, Role> m_roles;  // by the reading's path
  std::vector<Knob> m_knobs;
};

}  // namespace

std::vector<Knob> findKnobs(const std::string& root) { return KnobFinder(root).find(); }

}  // namespace ash
