// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/role.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <vector>

namespace ash {
namespace {

constexpr std::string_view kSurface = "surface", kFan = "fan", kRoom = "room";

struct RolePattern {
  std::string_view pattern;  // <N> = digits, <place> = one word
  Quantity quantity;
  std::string_view device;
  std::string_view words;
};

// The table of ../shared/contracts/analysis.md, "Roles"; copied to docs/analysis-contract.md.
constexpr std::array kRoles = {
    RolePattern{"room.temp", Quantity::Temperature, "room", "Room temperature"},
    RolePattern{"cpu.temp", Quantity::Temperature, "cpu", "Processor temperature"},
    RolePattern{"cpu.temp.mean", Quantity::Temperature, "cpu", "Processor temperature, mean of the cores"},
    RolePattern{"cpu.temp.core<N>", Quantity::Temperature, "cpu", "Processor core temperature"},
    RolePattern{"cpu.temp.package", Quantity::Temperature, "cpu", "Processor package temperature"},
    RolePattern{"cpu.clock", Quantity::Clock, "cpu", "Processor clock"},
    RolePattern{"cpu.clock.core<N>", Quantity::Clock, "cpu", "Processor core clock"},
    RolePattern{"cpu.clock.cluster<N>", Quantity::Clock, "cpu", "Processor cluster clock"},
    RolePattern{"cpu.power", Quantity::Power, "cpu", "Processor package power"},
    RolePattern{"cpu.power.limit", Quantity::Power, "cpu", "Processor power limit in force"},
    RolePattern{"cpu.energy", Quantity::Energy, "cpu", "Processor energy counter"},
    RolePattern{"cpu.load", Quantity::Percent, "cpu", "Processor load"},
    RolePattern{"cpu.load.other", Quantity::Percent, "cpu", "Load of everything else"},
    RolePattern{"cpu.volt", Quantity::Voltage, "cpu", "Processor voltage"},
    RolePattern{"gpu.temp", Quantity::Temperature, "gpu", "Graphics temperature"},
    RolePattern{"gpu.temp.hotspot", Quantity::Temperature, "gpu", "Graphics hotspot temperature"},
    RolePattern{"gpu.temp.memory", Quantity::Temperature, "gpu", "Graphics memory temperature"},
    RolePattern{"gpu.clock", Quantity::Clock, "gpu", "Graphics clock"},
    RolePattern{"gpu.clock.memory", Quantity::Clock, "gpu", "Graphics memory clock"},
    RolePattern{"gpu.power", Quantity::Power, "gpu", "Graphics board power"},
    RolePattern{"gpu.energy", Quantity::Energy, "gpu", "Graphics energy counter"},
    RolePattern{"gpu.power.chip", Quantity::Power, "gpu", "Graphics chip power"},
    RolePattern{"gpu.load", Quantity::Percent, "gpu", "Graphics load"},
    RolePattern{"gpu.volt", Quantity::Voltage, "gpu", "Graphics voltage"},
    RolePattern{"board.temp.vrm", Quantity::Temperature, "board.vrm", "Power delivery (VRM) temperature"},
    RolePattern{"board.temp", Quantity::Temperature, "board", "Board temperature"},
    RolePattern{"memory.temp", Quantity::Temperature, "memory", "Memory temperature"},
    RolePattern{"coolant.temp", Quantity::Temperature, "coolant", "Coolant temperature"},
    RolePattern{"case.temp", Quantity::Temperature, "case", "Air inside the case"},
    RolePattern{"exhaust.temp", Quantity::Temperature, "exhaust", "Exhaust air"},
    RolePattern{"storage.temp", Quantity::Temperature, "storage", "Drive temperature"},
    RolePattern{"storage.read", Quantity::Throughput, "storage", "Drive reads"},
    RolePattern{"storage.write", Quantity::Throughput, "storage", "Drive writes"},
    RolePattern{"fan.<place>.duty", Quantity::Percent, "fan", "Fan duty"},
    RolePattern{"fan.<place>", Quantity::FanSpeed, "fan", "Fan speed"},
    RolePattern{"pump", Quantity::FanSpeed, "pump", "Pump speed"},
    RolePattern{"wall.power", Quantity::Power, "wall", "Power at the wall"},
    RolePattern{"wall.energy", Quantity::Energy, "wall", "Energy at the wall"},
    RolePattern{"battery.charge", Quantity::Percent, "battery", "Battery charge"},
    RolePattern{"battery.power", Quantity::Power, "battery", "Battery power"},
    RolePattern{"surface.<place>", Quantity::Temperature, "surface", "Surface temperature"},
    RolePattern{"noise", Quantity::Noise, "noise", "Noise"},
    RolePattern{"work.rate", Quantity::Rate, "work", "Work rate"},
    RolePattern{"frame.rate", Quantity::FrameRate, "frame", "Frame rate"},
};

bool isPlaceCharacter(char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_' || c == '-'; }

// Matches one dotted part against "word", "word<N>" or "<place>". The first part may carry a number of its own.
bool partMatches(std::string_view part, std::string_view pattern, bool isFirst) {
  if (pattern == "<place>") return !part.empty() && std::all_of(part.begin(), part.end(), isPlaceCharacter);
  const bool wantsNumber = pattern.ends_with("<N>");
  if (wantsNumber) pattern.remove_suffix(3);
  if (!part.starts_with(pattern)) return false;
  const std::string_view rest = part.substr(pattern.size());
  const bool digits = std::all_of(rest.begin(), rest.end(), [](unsigned char c) { return std::isdigit(c) != 0; });
  if (!digits) return false;
  return rest.empty() ? !wantsNumber : (wantsNumber || isFirst);
}

std::vector<std::string_view> splitDots(std::string_view text) {
  std::vector<std::string_view> parts;
  while (true) {
    const size_t dot = text.find('.');
    parts.push_back(text.substr(0, dot));
    if (dot == std::string_view::npos) return parts;
    text.remove_prefix(dot + 1);
  }
}

const RolePattern* findPattern(std::string_view code) {
  const auto parts = splitDots(code);
  for (const RolePattern& row : kRoles) {
    const auto wanted = splitDots(row.pattern);
    if (wanted.size() != parts.size()) continue;
    bool same = true;
    for (size_t i = 0; i < parts.size() && same; ++i) same = partMatches(parts[i], wanted[i], i == 0);
    if (same) return &row;
  }
  return nullptr;
}

// The number that a second device of a kind carries on its first part: "gpu2.temp" -> "2".
std::string deviceNumber(std::string_view code) {
  const std::string_view first = code.substr(0, code.find('.'));
  const size_t digits = first.find_first_of("0123456789");
  return digits == std::string_view::npos ? std::string() : std::string(first.substr(digits));
}

}  // namespace

std::optional<RoleInfo> findRole(std::string_view code) {
  const RolePattern* row = findPattern(code);
  if (row == nullptr) return std::nullopt;
  std::string device(row->device);
  const std::string number = deviceNumber(code);
  if (!number.empty()) {
    const size_t dot = device.find('.');
    device.insert(dot == std::string::npos ? device.size() : dot, number);
  }
  return RoleInfo{row->quantity, device};
}

std::string plainRoleName(std::string_view code) {
  const RolePattern* row = findPattern(code);
  if (row == nullptr) return std::string(code);
  std::string words(row->words);
  const auto parts = splitDots(code);
  if (row->device == kFan || row->device == kSurface) words += ", " + std::string(parts[1]);
  if (row->pattern.ends_with("<N>"))
    words += " " + std::string(parts.back().substr(parts.back().find_first_of("0123456789")));
  const std::string number = deviceNumber(code);
  if (!number.empty()) words += " " + number;
  return words;
}

std::string shortDeviceName(std::string_view roleCode) {
  const RolePattern* row = findPattern(roleCode);
  if (row == nullptr) return std::string(roleCode);
  struct Name {
    std::string_view device, words;
  };
  constexpr std::array kNames = {Name{"cpu", "CPU"},         Name{"gpu", "GPU"},       Name{"board.vrm", "VRM"},
                                 Name{"board", "Board"},     Name{"storage", "SSD"},   Name{"memory", "Memory"},
                                 Name{"coolant", "Coolant"}, Name{"case", "Case air"}, Name{"exhaust", "Exhaust"},
                                 Name{"room", "Room"},       Name{"wall", "Wall"},     Name{"battery", "Battery"}};
  const auto parts = splitDots(roleCode);
  if (row->device == kFan || row->device == kSurface) return std::string(parts[1]);
  for (const Name& name : kNames) {
    if (name.device == row->device) return std::string(name.words) + deviceNumber(roleCode);
  }
  return std::string(row->words);
}

bool isRoomRole(std::string_view code) {
  const RolePattern* row = findPattern(code);
  return row != nullptr && row->device == kRoom;
}

bool isSurfaceRole(std::string_view code) {
  const RolePattern* row = findPattern(code);
  return row != nullptr && row->device == kSurface;
}

bool isLoadedTemperature(std::string_view code) {
  const RolePattern* row = findPattern(code);
  return row != nullptr && row->quantity == Quantity::Temperature && row->device != kRoom;
}

}  // namespace ash
