// SPDX-License-Identifier: GPL-3.0-or-later
// What a power supply tells of itself in words (Documentation/ABI/testing/sysfs-class-power).
#pragma once

#include <array>
#include <filesystem>
#include <string_view>

#include "model/open_word.h"

namespace ash {

struct SupplyWords {
  enum Known { Battery, Ups, Mains, Usb, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"Battery", "UPS", "Mains", "USB"};
};
using SupplyType = OpenWord<SupplyWords>;

SupplyType supplyTypeOf(const std::filesystem::path& folder);
/// Of a mouse or a pen, and none of the machine's.
bool isOfPeripheral(const std::filesystem::path& folder);
/// The place of a battery is empty.
bool isMissing(const std::filesystem::path& folder);
bool isDischarging(const std::filesystem::path& folder);

}  // namespace ash
