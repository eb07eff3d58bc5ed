// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/role.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <optional>
#include <vector>

namespace ash {
namespace {

constexpr std::string_view kPlace = "<place>", kNumber = "<N>";

struct RoleRow {
  std::string_view pattern;  // <N> = digits, <place> = one word of the reviewer's own
  Quantity quantity;
  std::string_view part;  // of the device: "vrm"; <place> is taken from the text
  Part what;
  std::string_view words;
};

// The table of docs/analysis-contract.md, "Roles". The device's kind is the first word.
constexpr std::array kRows = {
    RoleRow{"room.temp", Quantity::Temperature, "", Part::Main, "Room temperature"},
    RoleRow{"cpu.temp", Quantity::Temperature, "", Part::Main, "Processor temperature"},
    RoleRow{"cpu.temp.mean", Quantity::Temperature, "", Part::Mean, "Processor temperature, mean of the cores"},
    RoleRow{"cpu.temp.core<N>", Quantity::Temperature, "", Part::Core, "Processor core temperature"},
    RoleRow{"cpu.temp.package", Quantity::Temperature, "", Part::Package, "Processor package temperature"},
    RoleRow{"cpu.clock", Quantity::Clock, "", Part::Main, "Processor clock"},
    RoleRow{"cpu.clock.core<N>", Quantity::Clock, "", Part::Core, "Processor core clock"},
    RoleRow{"cpu.clock.cluster<N>", Quantity::Clock, "", Part::Cluster, "Processor cluster clock"},
    RoleRow{"cpu.power", Quantity::Power, "", Part::Main, "Processor package power"},
    RoleRow{"cpu.power.limit", Quantity::Power, "", Part::Limit, "Processor power limit in force"},
    RoleRow{"cpu.energy", Quantity::Energy, "", Part::Main, "Processor energy counter"},
    RoleRow{"cpu.load", Quantity::Percent, "", Part::Main, "Processor load"},
    RoleRow{"cpu.load.other", Quantity::Percent, "", Part::OfOthers, "Load of everything else"},
    RoleRow{"cpu.volt", Quantity::Voltage, "", Part::Main, "Processor voltage"},
    RoleRow{"gpu.temp", Quantity::Temperature, "", Part::Main, "Graphics temperature"},
    RoleRow{"gpu.temp.hotspot", Quantity::Temperature, "", Part::Hotspot, "Graphics hotspot temperature"},
    RoleRow{"gpu.temp.memory", Quantity::Temperature, "", Part::Memory, "Graphics memory temperature"},
    RoleRow{"gpu.clock", Quantity::Clock, "", Part::Main, "Graphics clock"},
    RoleRow{"gpu.clock.memory", Quantity::Clock, "", Part::Memory, "Graphics memory clock"},
    RoleRow{"gpu.power", Quantity::Power, "", Part::Main, "Graphics board power"},
    RoleRow{"gpu.energy", Quantity::Energy, "", Part::Main, "Graphics energy counter"},
    RoleRow{"gpu.power.chip", Quantity::Power, "", Part::Chip, "Graphics chip power"},
    RoleRow{"gpu.load", Quantity::Percent, "", Part::Main, "Graphics load"},
    RoleRow{"gpu.volt", Quantity::Voltage, "", Part::Main, "Graphics voltage"},
    RoleRow{"board.temp.vrm", Quantity::Temperature, Device::kRegulators, Part::Main,
            "Power delivery (VRM) temperature"},
    RoleRow{"board.temp", Quantity::Temperature, "", Part::Main, "Board temperature"},
    RoleRow{"memory.temp", Quantity::Temperature, "", Part::Main, "Memory temperature"},
    RoleRow{"coolant.temp", Quantity::Temperature, "", Part::Main, "Coolant temperature"},
    RoleRow{"case.temp", Quantity::Temperature, "", Part::Main, "Air inside the case"},
    RoleRow{"exhaust.temp", Quantity::Temperature, "", Part::Main, "Exhaust air"},
    RoleRow{"storage.temp", Quantity::Temperature, "", Part::Main, "Drive temperature"},
    RoleRow{"storage.read", Quantity::Throughput, "", Part::Read, "Drive reads"},
    RoleRow{"storage.write", Quantity::Throughput, "", Part::Write, "Drive writes"},
    RoleRow{"fan.<place>.duty", Quantity::Percent, kPlace, Part::Duty, "Fan duty"},
    RoleRow{"fan.<place>", Quantity::FanSpeed, kPlace, Part::Main, "Fan speed"},
    RoleRow{"pump", Quantity::FanSpeed, "", Part::Main, "Pump speed"},
    RoleRow{"wall.power", Quantity::Power, "", Part::Main, "Power at the wall"},
    RoleRow{"wall.energy", Quantity::Energy, "", Part::Main, "Energy at the wall"},
    RoleRow{"battery.charge", Quantity::Percent, "", Part::Main, "Battery charge"},
    RoleRow{"battery.power", Quantity::Power, "", Part::Main, "Battery power"},
    RoleRow{"surface.<place>", Quantity::Temperature, kPlace, Part::Main, "Surface temperature"},
    RoleRow{"noise", Quantity::Noise, "", Part::Main, "Noise"},
    RoleRow{"noise.fast", Quantity::Noise, "", Part::Fast, "Loudest moment"},
    RoleRow{"noise.relative", Quantity::Level, "", Part::Relative, "Noise, uncalibrated"},
    RoleRow{"noise.relative.fast", Quantity::Level, "", Part::Fast, "Loudest moment, uncalibrated"},
    RoleRow{"noise.band<N>", Quantity::Level, "", Part::Band, "Noise, third-octave band"},
    RoleRow{"noise.tone<N>", Quantity::Pitch, "", Part::Tone, "Tone"},
    RoleRow{"noise.tone<N>.over", Quantity::Level, "", Part::Over, "Tone over the noise around it,"},
    RoleRow{"work.rate", Quantity::Rate, "", Part::Main, "Work rate"},
    RoleRow{"frame.rate", Quantity::FrameRate, "", Part::Main, "Frame rate"},
};

const RoleRow& rowAt(int row) { return kRows[static_cast<size_t>(row)]; }

bool isDigit(unsigned char c) { return std::isdigit(c) != 0; }
bool isPlaceCharacter(unsigned char c) { return std::isalnum(c) != 0 || c == '_' || c == '-'; }

std::vector<std::string_view> splitDots(std::string_view text) {
  std::vector<std::string_view> parts;
  while (true) {
    const size_t dot = text.find('.');
    parts.push_back(text.substr(0, dot));
    if (dot == std::string_view::npos) return parts;
    text.remove_prefix(dot + 1);
  }
}

/// What of the text stood for <place> and <N>.
struct Taken {
  std::string_view place, number;
};

// Holds one part behind the first against "word", "word<N>" or "<place>".
bool takePart(std::string_view part, std::string_view pattern, Taken& taken) {
  if (pattern == kPlace) {
    taken.place = part;
    return !part.empty() && std::all_of(part.begin(), part.end(), isPlaceCharacter);
  }
  if (!pattern.ends_with(kNumber)) return part == pattern;
  pattern.remove_suffix(kNumber.size());
  if (!part.starts_with(pattern)) return false;
  taken.number = part.substr(pattern.size());
  return !taken.number.empty() && std::all_of(taken.number.begin(), taken.number.end(), isDigit);
}

std::optional<Taken> match(const std::vector<std::string_view>& parts, const RoleRow& row) {
  const auto wanted = splitDots(row.pattern);
  if (wanted.size() != parts.size()) return std::nullopt;
  Taken taken;
  for (size_t i = 1; i < parts.size(); ++i) {
    if (!takePart(parts[i], wanted[i], taken)) return std::nullopt;
  }
  return taken;
}

std::string_view firstWord(std::string_view text) { return text.substr(0, text.find('.')); }

}  // namespace

Role::Role(Parsed, std::string_view text) : m_text(text) {
  const auto parts = splitDots(text);
  const Device first(parts.front());
  if (first.is(DeviceKind::Other)) return;
  const std::string word = Device(first.kind()).text();
  for (size_t i = 0; i < kRows.size(); ++i) {
    if (firstWord(kRows[i].pattern) != word) continue;
    const auto taken = match(parts, kRows[i]);
    if (!taken) continue;
    m_row = static_cast<int>(i);
    m_device = Device(first.kind(), kRows[i].part == kPlace ? taken->place : kRows[i].part, first.number());
    m_partNumber = taken->number;
    return;
  }
}

Role::Role(const Device& device, Quantity quantity, Part part) {
  const std::string word = Device(device.kind()).text();
  for (size_t i = 0; i < kRows.size(); ++i) {
    const RoleRow& row = kRows[i];
    const bool hasPlace = row.part == kPlace ? !device.place().empty() : row.part == device.place();
    const bool isIt = row.quantity == quantity && row.what == part && hasPlace &&
                      row.pattern.find(kNumber) == std::string_view::npos && firstWord(row.pattern) == word;
    if (!isIt) continue;
    m_row = static_cast<int>(i);
    m_device = device;
    m_text = Device(device.kind(), {}, device.number()).text();
    m_text += row.pattern.substr(firstWord(row.pattern).size());
    if (const size_t at = m_text.find(kPlace); at != std::string::npos)
      m_text.replace(at, kPlace.size(), device.place());
    return;
  }
}

Quantity Role::quantity() const { return isKnown() ? rowAt(m_row).quantity : Quantity::Other; }

Part Role::part() const { return isKnown() ? rowAt(m_row).what : Part::Main; }

bool Role::isOfSpectrum() const { return part() == Part::Band || part() == Part::Tone || part() == Part::Over; }

int Role::partNumber() const {
  int number = 0;
  const auto [end, error] = std::from_chars(m_partNumber.data(), m_partNumber.data() + m_partNumber.size(), number);
  return error == std::errc() ? number : 0;
}

Role Role::ofNumber(int number) const {
  if (!isKnown()) return *this;
  const Device device(m_device.kind(), {}, number <= 1 ? Device::kNoNumber : number);
  return Role(device.text() + m_text.substr(firstWord(m_text).size()));
}

std::string Role::title() const {
  if (!isKnown()) return m_text;
  std::string words(rowAt(m_row).words);
  if (rowAt(m_row).part == kPlace) words += ", " + m_device.place();
  if (!m_partNumber.empty()) words += " " + m_partNumber;
  if (m_device.number() != Device::kNoNumber) words += " " + std::to_string(m_device.number());
  return words;
}

Role freeRole(const Role& role, const std::set<std::string>& taken) {
  constexpr int kMostOfAKind = 1000;
  Role free = role;
  for (int number = 2; role.isKnown() && taken.contains(free.text()) && number < kMostOfAKind; ++number)
    free = role.ofNumber(number);
  return free;
}

}  // namespace ash
