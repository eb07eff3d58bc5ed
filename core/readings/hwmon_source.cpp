// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/hwmon_source.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>
#include <regex>

#include "model/text.h"
#include "readings/root_path.h"
#include "system/clock.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kLookAgainEveryS = 1;

struct KindRow {
  const char* prefix;
  const char* kind;
  Quantity quantity;
  double scale;  // kernel integer -> stored unit; Documentation/hwmon/sysfs-interface.rst
};
constexpr KindRow kKinds[] = {
    {"temp", "temp", Quantity::Temperature, 1e-3},      {"fan", "fan", Quantity::FanSpeed, 1},
    {"power", "power", Quantity::Power, 1e-6},          {"in", "voltage", Quantity::Voltage, 1e-3},
    {"curr", "current", Quantity::Current, 1e-3},       {"energy", "energy", Quantity::Energy, 1e-6},
    {"humidity", "humidity", Quantity::Humidity, 1e-3}, {"freq", "clock", Quantity::Clock, 1e-6},
    {"pwm", "pwm", Quantity::Percent, 100.0 / 255},
};

const KindRow* kindOfPrefix(const std::string& prefix) {
  for (const KindRow& row : kKinds) {
    if (prefix == row.prefix) return &row;
  }
  return nullptr;
}

/// One channel of a chip, found by its file name.
struct Attribute {
  std::string file;     // "temp1_input", "pwm2"
  std::string channel;  // "temp1"
  std::string prefix;   // "temp"
  int number = 0;
};

std::vector<Attribute> listAttributes(const fs::path& folder) {
  static const std::regex kInput(
      "^(temp|in|curr|power|energy|fan|humidity|freq)([0-9]+)_(input|average)$|^(pwm)([0-9]+)$");
  std::vector<Attribute> found;
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(folder, error)) {
    const std::string name = entry.path().filename().string();
    std::smatch match;
    if (name.size() > 40 || !std::regex_match(name, match, kInput)) continue;
    const std::string prefix = match[1].matched ? match[1].str() : match[4].str();
    const std::string number = match[2].matched ? match[2].str() : match[5].str();
    if (number.size() > 6) continue;
    found.push_back({name, prefix + number, prefix, std::stoi(number)});
  }
  std::sort(found.begin(), found.end(), [](const Attribute& a, const Attribute& b) {
    return std::tie(a.prefix, a.number, a.file) < std::tie(b.prefix, b.number, b.file);
  });
  return found;
}

std::optional<double> readScaled(const fs::path& file, double scale) {
  SysfsFile number(file.string());
  const auto value = number.readInteger(0);
  if (!value) return std::nullopt;
  return static_cast<double>(*value) * scale;
}

// A label as a person may read it: no control characters, no broken UTF-8, empty when nothing is left.
std::string cleanLabel(const std::string& raw) {
  std::string clean;
  for (const char c : raw) {
    const auto byte = static_cast<unsigned char>(c);
    if (byte >= 0x20 && byte < 0x7F) clean += c;
  }
  return std::string(trimmed(clean));
}

bool isRealLimit(const KindRow& row, const std::string& which, double value) {
  if (row.quantity != Quantity::Temperature) return which == "min" ? value > 0 : value > 0;
  if (which == "min") return value > -100 && value != 0;
  return value > 0 && value < 1000;
}

void readLimits(const fs::path& folder, const Attribute& attribute, const KindRow& row, Reading& reading) {
  struct LimitRow {
    const char* suffix;
    const char* name;
  };
  constexpr LimitRow kLimits[] = {
      {"_min", "min"}, {"_max", "max"},         {"_crit", "critical"},     {"_emergency", "emergency"},
      {"_cap", "cap"}, {"_cap_max", "cap_max"}, {"_max_hyst", "max_hyst"}, {"_crit_hyst", "crit_hyst"}};
  for (const LimitRow& limit : kLimits) {
    const auto value = readScaled(folder / (attribute.channel + limit.suffix), row.scale);
    if (value && isRealLimit(row, limit.name, *value)) reading.limits[limit.name] = *value;
  }
  const auto low = reading.limits.find("min");
  const auto high = reading.limits.find("max");
  if (low != reading.limits.end() && high != reading.limits.end() && high->second <= low->second) {
    reading.limits.erase("min");
    reading.limits.erase("max");
  }
}

// Why a channel that is there must not be taken as a reading; empty when it may.
std::string reasonToSkip(const fs::path& folder, const Attribute& attribute, const KindRow& row,
                         const std::string& driver, SysfsFile& file) {
  SysfsFile fault((folder / (attribute.channel + "_fault")).string());
  if (fault.readInteger(0).value_or(0) == 1) return "fault flag set";
  const bool enableIsManualControl = row.quantity == Quantity::FanSpeed && driver == "amdgpu";
  if (row.quantity != Quantity::Percent && !enableIsManualControl) {
    SysfsFile enable((folder / (attribute.channel + "_enable")).string());
    if (enable.readInteger(0).value_or(1) == 0) return "disabled";
  }
  const auto raw = file.readInteger(0);
  if (!raw) {
    const int error = file.lastError();
    if (error == EACCES || error == EPERM) return "needs rights";
    return error != 0 ? fmt::format("cannot be read: {}", std::strerror(error)) : "holds no number";
  }
  if (row.quantity != Quantity::Temperature) return {};
  const double celsius = static_cast<double>(*raw) * row.scale;
  if (celsius == 0) return "exactly 0 °C: most likely nothing is connected";
  if (celsius < -50 || celsius >= 127) return fmt::format("{:g} °C is no possible temperature here", celsius);
  return {};
}

struct Chip {
  fs::path folder;  // where the attributes stand
  std::string device, driver;
};

Chip describeChip(const fs::path& entry) {
  Chip chip;
  std::error_code error;
  chip.folder = fs::canonical(entry, error);
  if (error) chip.folder = entry;
  // Old drivers keep their attributes one folder further down.
  if (listAttributes(chip.folder).empty() && fs::is_directory(chip.folder / "device", error)) {
    const fs::path old = fs::canonical(chip.folder / "device", error);
    if (!error && !listAttributes(old).empty()) chip.folder = old;
  }
  chip.driver = cleanLabel(readSmallFile((chip.folder / "name").string()).value_or(""));
  const std::string label = cleanLabel(readSmallFile((chip.folder / "label").string()).value_or(""));
  const std::string model = cleanLabel(readSmallFile((chip.folder / "device/model").string()).value_or(""));
  chip.device = !label.empty() ? label : !model.empty() ? model : chip.driver;
  if (chip.device.empty()) chip.device = "unnamed chip";
  return chip;
}

Reading describeReading(const std::string& root, const Chip& chip, const Attribute& attribute, const KindRow& row) {
  Reading reading;
  reading.path = pathBelowRoot(root, chip.folder / attribute.file);
  reading.id = std::regex_replace(reading.path, std::regex("/hwmon[0-9]+/"), "/hwmon*/");
  reading.device = chip.device;
  reading.driver = chip.driver;
  reading.kind = row.kind;
  reading.quantity = row.quantity;
  reading.unit = unitOf(row.quantity);
  reading.name = cleanLabel(readSmallFile((chip.folder / (attribute.channel + "_label")).string()).value_or(""));
  if (reading.name.empty()) reading.name = attribute.channel;
  readLimits(chip.folder, attribute, row, reading);
  return reading;
}

std::unique_ptr<HwmonSource> openChip(const std::string& root, const Chip& chip, std::vector<SkippedReading>& skipped) {
  SourceInfo info;
  std::vector<SysfsFile> files;
  std::vector<double> scales;
  for (const Attribute& attribute : listAttributes(chip.folder)) {
    const KindRow* row = kindOfPrefix(attribute.prefix);
    SysfsFile file((chip.folder / attribute.file).string());
    const std::string why = reasonToSkip(chip.folder, attribute, *row, chip.driver, file);
    if (!why.empty()) {
      skipped.push_back({pathBelowRoot(root, chip.folder / attribute.file), why});
      continue;
    }
    info.readings.push_back(describeReading(root, chip, attribute, *row));
    files.push_back(std::move(file));
    scales.push_back(row->scale);
  }
  if (info.readings.empty()) return nullptr;
  info.id = std::regex_replace(pathBelowRoot(root, chip.folder), std::regex("/hwmon[0-9]+$"), "/hwmon*");
  return std::make_unique<HwmonSource>(std::move(info), std::move(files), std::move(scales));
}

}  // namespace

// The folder of the chip is gone; the number in its name is given anew when it comes back.
void HwmonSource::lookAgain(double nowS) {
  if (nowS - m_lookedS < kLookAgainEveryS) return;
  m_lookedS = nowS;
  const fs::path before = fs::path(m_files.front().path()).parent_path();
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(before.parent_path(), error)) {
    const std::string name = entry.path().filename().string();
    const std::string first = fs::path(m_files.front().path()).filename().string();
    if (!name.starts_with("hwmon") || entry.path() == before || !fs::exists(entry.path() / first, error)) continue;
    for (SysfsFile& file : m_files) file = SysfsFile((entry.path() / fs::path(file.path()).filename()).string());
    return;
  }
}

Sweep HwmonSource::sweep() {
  Sweep sweep;
  sweep.values.reserve(m_files.size());
  const double nowS = bootTimeS();
  for (size_t i = 0; i < m_files.size(); ++i) {
    const auto raw = m_files[i].readInteger(nowS);
    sweep.values.push_back(raw ? static_cast<double>(*raw) * m_scales[i] : kMissing);
  }
  const bool isGone = std::all_of(m_files.begin(), m_files.end(), [](const SysfsFile& file) {
    return file.lastError() == ENOENT || file.lastError() == ENODEV;
  });
  if (isGone) lookAgain(nowS);
  sweep.timeS = bootTimeS();
  return sweep;
}

std::vector<std::unique_ptr<HwmonSource>> findHwmonSources(const std::string& root,
                                                           std::vector<SkippedReading>& skipped) {
  std::vector<fs::path> entries;
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(fs::path(root + "/sys/class/hwmon"), error)) {
    entries.push_back(entry.path());
  }
  std::vector<Chip> chips;
  for (const fs::path& entry : entries) chips.push_back(describeChip(entry));
  // Probe order changes from boot to boot; the place on the bus does not.
  std::sort(chips.begin(), chips.end(), [](const Chip& a, const Chip& b) { return a.folder < b.folder; });
  std::vector<std::unique_ptr<HwmonSource>> sources;
  for (const Chip& chip : chips) {
    if (auto source = openChip(root, chip, skipped)) sources.push_back(std::move(source));
  }
  return sources;
}

}  // namespace ash
