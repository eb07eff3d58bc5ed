// SPDX-License-Identifier: GPL-3.0-or-later
// Roles: what a reading means, so that it can be compared between machines. A role is parsed once and compared as a
// value; its text ("gpu2.temp.hotspot": dotted, lower case) stands in the book, on the wire, in CSV and in sidecars.
#pragma once

#include <concepts>
#include <set>
#include <string>
#include <string_view>

#include "model/device.h"
#include "model/unit.h"

namespace ash {

/// Which of a device's readings of one quantity; Main is the one that stands for the device.
enum class Part {
  Main,
  Mean,
  Core,
  Package,
  Cluster,
  Limit,     ///< the power limit in force
  OfOthers,  ///< load of everything but the load that is run
  Hotspot,
  Memory,
  Chip,
  Read,
  Write,
  Duty,
  Relative,  ///< of a level that is tied to none that was measured
  Fast,      ///< the loudest moment, time weighting F
  Band,      ///< a third of an octave
  Tone,      ///< the frequency of a tone that stands out
  Over,      ///< a tone over the noise around it
};

/// The text of the roles that somebody asks for by name.
namespace roles {
inline constexpr char kRoom[] = "room.temp", kCpuTemp[] = "cpu.temp", kCpuTempMean[] = "cpu.temp.mean",
                      kCpuTempPackage[] = "cpu.temp.package", kCpuClock[] = "cpu.clock", kCpuPower[] = "cpu.power",
                      kCpuEnergy[] = "cpu.energy", kCpuLoad[] = "cpu.load", kCpuLoadOther[] = "cpu.load.other",
                      kGpuTemp[] = "gpu.temp", kGpuClock[] = "gpu.clock", kGpuPower[] = "gpu.power",
                      kGpuPowerChip[] = "gpu.power.chip", kGpuLoad[] = "gpu.load", kVrmTemp[] = "board.temp.vrm",
                      kMemoryTemp[] = "memory.temp", kCoolantTemp[] = "coolant.temp", kCaseTemp[] = "case.temp",
                      kStorageTemp[] = "storage.temp", kStorageRead[] = "storage.read",
                      kStorageWrite[] = "storage.write", kFanCpu[] = "fan.cpu", kWallPower[] = "wall.power",
                      kBatteryCharge[] = "battery.charge", kBatteryPower[] = "battery.power", kNoise[] = "noise",
                      kNoiseRelative[] = "noise.relative", kWorkRate[] = "work.rate", kFrameRate[] = "frame.rate";
/// Not a reading of an instrument: what a program under test told. It can be typed and owed as a reading is.
inline constexpr char kScore[] = "score";
}  // namespace roles

/// What a reading means: of which device, which quantity, which part of it. One that is in no row of the table
/// (docs/analysis-contract.md, "Roles") is not known and keeps its text.
class Role {
 public:
  Role() = default;
  template <class Text>
  requires std::convertible_to<const Text&, std::string_view> Role(const Text& text)
      : Role(Parsed{}, text) {}  // NOLINT: a role is written by its name
  /// A reading of a device; empty when the table has none: Role(gpu2, Quantity::Power) is "gpu2.power".
  Role(const Device& device, Quantity quantity, Part part = Part::Main);

  bool isKnown() const { return m_row != kNoRow; }
  bool empty() const { return m_text.empty(); }
  const std::string& text() const { return m_text; }
  const Device& device() const { return m_device; }
  Quantity quantity() const;  ///< Other when it is not known
  Part part() const;
  /// The number of its part: 1250 of "noise.band1250"; 0 where it has none.
  int partNumber() const;
  bool isMain() const { return isKnown() && part() == Part::Main; }
  /// A third-octave band or a tone of a microphone: many, and told together.
  bool isOfSpectrum() const;

  /// The same of the device with that number: Role("cpu.temp").ofNumber(2) is "cpu2.temp"; the first carries none.
  Role ofNumber(int number) const;

  /// In words for a person: "Processor temperature", "Fan speed, rear". The text itself where it is not known.
  std::string title() const;
  /// Its device in a short word: "CPU", "VRM", "rear". The text itself where it is not known.
  std::string shortName() const { return isKnown() ? m_device.shortName() : m_text; }

  /// Ambient air ("room.temp", "room2.temp"); such a reading never leads a run.
  bool isRoom() const { return isKnown() && m_device.is(DeviceKind::Room); }
  /// A place of the reviewer's own on a surface ("surface.lid").
  bool isSurface() const { return isKnown() && m_device.is(DeviceKind::Surface); }
  /// A temperature of something that can be loaded: not the room's.
  bool isLoadedTemperature() const { return quantity() == Quantity::Temperature && !isRoom(); }

  bool operator==(const Role& other) const { return m_text == other.m_text; }
  auto operator<=>(const Role& other) const { return m_text <=> other.m_text; }
  /// With a text nothing needs to be parsed.
  template <class Text>
  requires std::convertible_to<const Text&, std::string_view>
  bool operator==(const Text& text) const { return m_text == std::string_view(text); }

 private:
  struct Parsed {};
  Role(Parsed, std::string_view text);

  static constexpr int kNoRow = -1;
  std::string m_text;
  Device m_device;
  int m_row = kNoRow;  // in the table
  std::string m_partNumber;
};

/// The role itself when it is not among `taken` (texts), else the same of the next number that is free. A role that is
/// not known has no numbers and stays.
Role freeRole(const Role& role, const std::set<std::string>& taken);

}  // namespace ash
