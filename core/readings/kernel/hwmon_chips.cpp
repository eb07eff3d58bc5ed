// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/hwmon_chips.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <thread>

#include "model/pattern.h"
#include "readings/gauges/plausible.h"
#include "readings/gauges/root_path.h"
#include "readings/kernel/device_sleep.h"
#include "readings/kernel/drives.h"
#include "readings/kernel/hwmon_computed.h"
#include "readings/kernel/hwmon_drivers.h"
#include "readings/kernel/hwmon_limits.h"
#include "readings/kernel/pci_links.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr HwmonKind kKinds[] = {
    {"temp", "temp", Quantity::Temperature, 1e3},      {"fan", "fan", Quantity::FanSpeed, 1},
    {"power", "power", Quantity::Power, 1e6},          {"in", "voltage", Quantity::Voltage, 1e3},
    {"curr", "current", Quantity::Current, 1e3},       {"energy", "energy", Quantity::Energy, 1e6},
    {"humidity", "humidity", Quantity::Humidity, 1e3}, {"freq", "clock", Quantity::Clock, 1e6},
    {"pwm", kDutyKind, Quantity::Percent, 2.55},
};

const HwmonKind* kindOfPrefix(const std::string& prefix) {
  for (const HwmonKind& row : kKinds) {
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
  static const Pattern kInput =
      Pattern::own("^(temp|in|curr|power|energy|fan|humidity|freq)([0-9]+)_(input|average)$|^(pwm)([0-9]+)$");
  std::vector<Attribute> found;
  std::error_code error;
  for (fs::directory_iterator it(folder, error), end; !error && it != end; it.increment(error)) {
    const std::string name = it->path().filename().string();
    const auto match = name.size() > 40 ? std::nullopt : kInput.matchWhole(name);
    if (!match) continue;
    const bool isDuty = (*match)[1].empty();
    const std::string prefix((*match)[isDuty ? 4 : 1]), number((*match)[isDuty ? 5 : 2]);
    // Only power has an average beside or instead of its instant value.
    if (number.size() > 6 || ((*match)[3] == "average" && prefix != "power" && prefix != "in" && prefix != "curr"))
      continue;
    found.push_back({name, prefix + number, prefix, std::stoi(number)});
  }
  std::sort(found.begin(), found.end(), [](const Attribute& a, const Attribute& b) {
    return std::tie(a.prefix, a.number, a.file) < std::tie(b.prefix, b.number, b.file);
  });
  return found;
}

struct Chip {
  std::string root;
  DriveIdentity drive;  // of a drive's chip, else empty
  std::string place;    // what tells it from others of its kind
  fs::path folder;      // where the attributes stand
  fs::path device;      // what it is a sensor of
  std::string name, driver;
  bool isAsleep = false;
};

// A drive by its serial number, a memory module by its slot (the low bits of its address on the bus, JEDEC JESD21-C and
// JESD300), a card by where it is plugged in.
std::string placeOf(const std::string& root, const Chip& chip) {
  static const Pattern kBusAddress = Pattern::own("^[0-9]+-00([0-9a-f]{2})$");
  if (!chip.drive.serial.empty()) return chip.drive.tail();
  const std::string name = chip.device.filename().string();
  const auto match = kBusAddress.matchWhole(name);
  if (!match) return pciPlace("/" + pathBelowRoot(root, chip.device));
  const int address = std::stoi(std::string((*match)[1]), nullptr, 16);
  const bool isModule = hwmonDriver(chip.driver).place == ChipPlace::ModuleSlot;
  return isModule ? fmt::format("slot {} of bus {}", address % 8 + 1, name.substr(0, name.find('-')))
                  : fmt::format("address 0x{:02x}", address);
}

Chip describeChip(const std::string& root, const fs::path& folder) {
  Chip chip;
  chip.root = root;
  chip.folder = folder;
  chip.device = folder.parent_path();
  std::error_code error;
  if (const fs::path device = fs::canonical(folder / "device", error); !error) chip.device = device;
  chip.driver = readWords(folder / "name");
  // Old drivers keep their attributes one folder further down.
  if (listAttributes(folder).empty() && !listAttributes(folder / "device").empty()) {
    chip.folder = chip.device;
    if (chip.driver.empty()) chip.driver = readWords(chip.folder / "name");
  }
  for (const auto& file : {folder / "label", chip.device / "model", chip.device / "product_name"}) {
    if (chip.name.empty()) chip.name = readWords(file);
  }
  if (chip.name.empty()) chip.name = chip.driver.empty() ? "unnamed chip" : chip.driver;
  if (hwmonDriver(chip.driver).place == ChipPlace::DriveSerial) chip.drive = readDriveIdentity(chip.device);
  chip.place = placeOf(root, chip);
  chip.isAsleep = isAsleep(chip.device);
  return chip;
}

// A device that is busy for a moment is asked again; what it says after that counts.
std::optional<int64_t> readPatiently(SysfsFile& file) {
  for (int attempt = 0; attempt < 3; ++attempt) {
    if (const auto value = file.readInteger(0)) return value;
    const int error = file.lastError();
    if (error != EAGAIN && error != EBUSY && error != ETIMEDOUT) return std::nullopt;
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
  }
  return std::nullopt;
}

// Why a channel that is there must not be taken as a reading; empty when it may.
std::string reasonToSkip(const Chip& chip, const Attribute& attribute, const HwmonKind& row) {
  if (readNumber(chip.folder / (attribute.channel + "_fault")).value_or(0) == 1) return "fault flag set";
  // amdgpu: fan1_enable says whether the fan is controlled by hand; the speed is good at 0.
  const bool enableIsManualControl = row.quantity == Quantity::FanSpeed && hwmonDriver(chip.driver).fanEnableIsManual;
  if (row.quantity != Quantity::Percent && !enableIsManualControl &&
      readNumber(chip.folder / (attribute.channel + "_enable")).value_or(1) == 0) {
    return "disabled";
  }
  if (chip.isAsleep) return {};
  SysfsFile file((chip.folder / attribute.file).string());
  const auto raw = readPatiently(file);
  if (!raw) {
    const int error = file.lastError();
    const bool maySoonAnswer = error == EAGAIN || error == EBUSY || error == ETIMEDOUT;
    return maySoonAnswer ? std::string() : whyUnreadable(error);
  }
  return whyImpossible(row.quantity, *raw, static_cast<double>(*raw) / row.divisor);
}

Reading describeReading(const Chip& chip, const Attribute& attribute, const HwmonKind& row) {
  std::string label = readWords(chip.folder / (attribute.channel + "_label"));
  Reading reading = makeReading(row.quantity, row.kind, label.empty() ? attribute.channel : std::move(label));
  setPath(chip.root, chip.folder / attribute.file, "", reading);
  if (!chip.drive.key().empty()) reading.id = chip.drive.key() + "/" + attribute.file;
  reading.device = chip.name;
  reading.place = chip.place;
  reading.driver = chip.driver;
  reading.deviceKey = deviceKeyOf(chip.root, chip.device);
  const double intervalS = static_cast<double>(readNumber(chip.folder / "update_interval").value_or(0)) / 1000;
  reading.refreshS = intervalS > 0 ? intervalS : hwmonDriver(chip.driver).refreshS;
  if (row.quantity == Quantity::Percent) reading.step = 100.0 / 255;
  addHwmonLimits(chip.folder, attribute.channel, row, reading);
  return reading;
}

// A counter of energy is a reading itself, and its rate is the power.
void addEnergy(const Chip& chip, const Attribute& attribute, const Reading& reading, GaugeSource& source) {
  auto counter = std::make_shared<CounterFile>((chip.folder / attribute.file).string(), 1e6, 0, kMostPowerW);
  source.add(reading, std::make_unique<CounterGauge>(counter, CounterGauge::Shows::Total));
  Reading power = makeReading(Quantity::Power, "power", reading.name);
  setPath(chip.root, chip.folder / attribute.file, "#rate", power);
  power.device = reading.device;
  power.driver = reading.driver;
  power.deviceKey = reading.deviceKey;
  addHwmonLimits(chip.folder, "power" + std::to_string(attribute.number), *kindOfPrefix("power"), power);
  source.add(power, std::make_unique<CounterGauge>(counter, CounterGauge::Shows::Rate));
}

double rotatingPaceS(const Chip& chip) {
  for (const auto& [number, block] : std::vector<std::pair<int, fs::path>>{{0, chip.device / "block"}}) {
    std::error_code error;
    for (fs::directory_iterator it(block, error), end; !error && it != end; it.increment(error)) {
      if (readNumber(it->path() / "queue/rotational").value_or(0) == 1) return 60;
    }
  }
  return 0;
}

Found openChip(const std::string& root, const fs::path& folder) {
  const Chip chip = describeChip(root, folder);
  Found found;
  const auto attributes = listAttributes(chip.folder);
  auto source = std::make_unique<GaugeSource>(chip.drive.key().empty() ? stableId(pathBelowRoot(root, chip.folder))
                                                                       : "chip of " + chip.drive.key());
  for (const Attribute& attribute : attributes) {
    const HwmonKind& row = *kindOfPrefix(attribute.prefix);
    const std::string why = reasonToSkip(chip, attribute, row);
    const std::string file = (chip.folder / attribute.file).string();
    if (!why.empty()) {
      found.skipped.push_back({pathBelowRoot(root, file), why});
      continue;
    }
    Reading reading = describeReading(chip, attribute, row);
    if (row.quantity == Quantity::Energy)
      addEnergy(chip, attribute, reading, *source);
    else
      source->add(std::move(reading), std::make_unique<FileGauge>(file, row.quantity, row.divisor));
  }
  if (source->isEmpty()) return found;
  addHwmonComputed(chip.driver, *source);
  const HwmonDriver& driver = hwmonDriver(chip.driver);
  source->setPaceS(driver.paceByRotation ? std::max(rotatingPaceS(chip), driver.paceS) : driver.paceS);
  if (const auto file = sleepFileOf(chip.device)) source->setSleepFile(*file);
  source->setHome(chip.folder.string(), attributes.front().file);
  found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

std::vector<Finder> hwmonFinders(const std::string& root, std::vector<SkippedReading>& skipped) {
  std::vector<fs::path> folders;
  for (const auto& [number, entry] : numberedEntries(root + "/sys/class/hwmon", "hwmon")) {
    std::error_code error;
    const fs::path folder = fs::canonical(entry, error);
    if (error) {
      skipped.push_back({fmt::format("sys/class/hwmon/hwmon{}", number), "the link leads nowhere"});
      continue;
    }
    const std::string path = folder.string();
    const bool mirrorsZone = path.find("/thermal/thermal_zone") != std::string::npos;
    if (mirrorsZone || path.find("/power_supply/") != std::string::npos) {
      skipped.push_back({pathBelowRoot(root, folder), mirrorsZone ? "the same as the thermal zone it belongs to"
                                                                  : "the same as the supply it belongs to"});
      continue;
    }
    if (std::find(folders.begin(), folders.end(), folder) == folders.end()) folders.push_back(folder);
  }
  // Probe order changes from boot to boot; the place on the bus does not.
  std::sort(folders.begin(), folders.end());
  std::vector<Finder> finders;
  for (const fs::path& folder : folders) {
    finders.push_back({pathBelowRoot(root, folder), [root, folder] { return openChip(root, folder); }});
  }
  return finders;
}

}  // namespace ash
