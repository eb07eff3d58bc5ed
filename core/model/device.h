// SPDX-License-Identifier: GPL-3.0-or-later
// What readings are taken of: a part of the bench, as a value.
#pragma once

#include <concepts>
#include <string>
#include <string_view>

namespace ash {

/// The kinds of device that a role can name; Other is none of them.
enum class DeviceKind {
  Room,
  Cpu,
  Gpu,
  Board,
  Memory,
  Coolant,
  Case,
  Exhaust,
  Storage,
  Fan,
  Pump,
  Wall,
  Battery,
  Surface,
  Noise,
  Work,
  Frame,
  Other,
};

/// A device: its kind, its number where there are several ("gpu2"), and which part or place of it is meant
/// ("board.vrm", "fan.rear", "surface.lid", "cpu.cluster1"). Parsed once, compared as a value; its text stands in files
/// only.
class Device {
 public:
  static constexpr int kNoNumber = -1;
  static constexpr std::string_view kRegulators = "vrm";  ///< the part of a board that feeds the processor

  Device() = default;
  Device(DeviceKind kind, std::string_view place = {}, int number = kNoNumber);  // NOLINT: the first of its kind
  /// Takes the text of a file apart. One of no known kind is Other and keeps its text.
  template <class Text>
  requires std::convertible_to<const Text&, std::string_view> Device(const Text& text)
      : Device(Parsed{}, text) {}  // NOLINT: a device is written by its name

  DeviceKind kind() const { return m_kind; }
  bool is(DeviceKind kind) const { return m_kind == kind; }
  int number() const { return m_number; }  ///< kNoNumber for one that carries none
  const std::string& place() const { return m_place; }
  const std::string& text() const { return m_text; }
  bool empty() const { return m_text.empty(); }

  /// In a short word for a heading: "CPU", "GPU2", "VRM", "rear", "CPU cluster 1".
  std::string shortName() const;

  bool operator==(const Device& other) const { return m_text == other.m_text; }
  auto operator<=>(const Device& other) const { return m_text <=> other.m_text; }

 private:
  struct Parsed {};
  Device(Parsed, std::string_view text);

  DeviceKind m_kind = DeviceKind::Other;
  int m_number = kNoNumber;
  std::string m_place, m_text;
};

}  // namespace ash
