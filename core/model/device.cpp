// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/device.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>

namespace ash {
namespace {

struct DeviceRow {
  DeviceKind kind;
  std::string_view word, shortName;
};

constexpr std::array kDevices = {
    DeviceRow{DeviceKind::Room, "room", "Room"},
    DeviceRow{DeviceKind::Cpu, "cpu", "CPU"},
    DeviceRow{DeviceKind::Gpu, "gpu", "GPU"},
    DeviceRow{DeviceKind::Board, "board", "Board"},
    DeviceRow{DeviceKind::Memory, "memory", "Memory"},
    DeviceRow{DeviceKind::Coolant, "coolant", "Coolant"},
    DeviceRow{DeviceKind::Case, "case", "Case air"},
    DeviceRow{DeviceKind::Exhaust, "exhaust", "Exhaust"},
    DeviceRow{DeviceKind::Storage, "storage", "SSD"},
    DeviceRow{DeviceKind::Fan, "fan", "Fan"},
    DeviceRow{DeviceKind::Pump, "pump", "Pump speed"},
    DeviceRow{DeviceKind::Wall, "wall", "Wall"},
    DeviceRow{DeviceKind::Battery, "battery", "Battery"},
    DeviceRow{DeviceKind::Surface, "surface", "Surface"},
    DeviceRow{DeviceKind::Noise, "noise", "Noise"},
    DeviceRow{DeviceKind::Work, "work", "Work rate"},
    DeviceRow{DeviceKind::Frame, "frame", "Frame rate"},
};

const DeviceRow* rowOf(DeviceKind kind) {
  const auto found =
      std::find_if(kDevices.begin(), kDevices.end(), [kind](const DeviceRow& row) { return row.kind == kind; });
  return found == kDevices.end() ? nullptr : &*found;
}

// The number of a second one of its kind. No leading zeros and no more than four digits: the text comes back as it was.
bool takeNumber(std::string_view digits, int& number) {
  if (digits.empty()) return true;
  if (digits.size() > 4 || (digits.size() > 1 && digits.front() == '0')) return false;
  const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
  return error == std::errc() && end == digits.data() + digits.size();
}

bool isDigit(char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; }

}  // namespace

Device::Device(DeviceKind kind, std::string_view place, int number) : m_kind(kind), m_number(number), m_place(place) {
  const DeviceRow* row = rowOf(kind);
  if (row == nullptr) return;
  m_text = row->word;
  if (number != kNoNumber) m_text += std::to_string(number);
  if (!place.empty()) m_text.append(1, '.').append(place);
}

Device::Device(Parsed, std::string_view text) : m_text(text) {
  const std::string_view first = text.substr(0, text.find('.'));
  const size_t digits = static_cast<size_t>(std::find_if(first.begin(), first.end(), isDigit) - first.begin());
  for (const DeviceRow& row : kDevices) {
    int number = kNoNumber;
    if (first.substr(0, digits) != row.word || !takeNumber(first.substr(digits), number)) continue;
    m_kind = row.kind;
    m_number = number;
    if (first.size() < text.size()) m_place = text.substr(first.size() + 1);
    return;
  }
}

std::string Device::shortName() const {
  const DeviceRow* row = rowOf(m_kind);
  if (row == nullptr) return m_text;
  if (!m_place.empty() && (m_kind == DeviceKind::Fan || m_kind == DeviceKind::Surface)) return m_place;
  const bool isRegulators = m_kind == DeviceKind::Board && m_place == kRegulators;
  std::string name(isRegulators ? "VRM" : row->shortName);
  if (m_number != kNoNumber) name += std::to_string(m_number);
  if (m_place.empty() || isRegulators) return name;
  const size_t digits = static_cast<size_t>(std::find_if(m_place.begin(), m_place.end(), isDigit) - m_place.begin());
  name += " " + m_place.substr(0, digits);
  return digits == m_place.size() ? name : name + " " + m_place.substr(digits);
}

}  // namespace ash
