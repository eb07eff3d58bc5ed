// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/hwmon_drivers.h"

#include <algorithm>
#include <array>

namespace ash {
namespace {

// coretemp.rst (values are kept for a second; crit is TjMax, where it slows down), nct6775.rst, it87.rst, f71882fg.rst
// (1.5 s), jc42.rst, fam15h_power.rst; reading nvme and drivetemp is a command to the drive, the others that have a
// pace are embedded controllers behind a slow bus. amdgpu: Documentation/gpu/amdgpu/thermal.rst.
constexpr std::array kDrivers = {
    HwmonDriver{.name = "coretemp", .refreshS = 1, .slowsAtCritical = true},
    HwmonDriver{.name = "amdgpu", .fanEnableIsManual = true, .slowsAtCritical = true},
    HwmonDriver{.name = "fam15h_power", .criticalIsRated = true},
    HwmonDriver{.name = "nct6*", .refreshS = 1.5},
    HwmonDriver{.name = "it8*", .refreshS = 1.5},
    HwmonDriver{.name = "f71*", .refreshS = 1.5},
    HwmonDriver{.name = "f81*", .refreshS = 1.5},
    HwmonDriver{.name = "w83*", .refreshS = 1.5},
    HwmonDriver{.name = "nvme", .paceS = 1, .refreshS = 1, .place = ChipPlace::DriveSerial},
    HwmonDriver{.name = "drivetemp", .paceS = 2, .place = ChipPlace::DriveSerial, .paceByRotation = true},
    HwmonDriver{.name = "jc42", .paceS = 1, .refreshS = 1, .place = ChipPlace::ModuleSlot},
    HwmonDriver{.name = "spd5118", .paceS = 1, .refreshS = 1, .place = ChipPlace::ModuleSlot},
    HwmonDriver{.name = "dell_smm", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "dell_ddv", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "thinkpad", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "asus", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "asusec", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "hp", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "applesmc", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "power_meter", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "iwlwifi*", .paceS = 1, .refreshS = 1},
    HwmonDriver{.name = "mt7*", .paceS = 1, .refreshS = 1},
};
constexpr HwmonDriver kPlain;

bool isCalled(const HwmonDriver& row, std::string_view name) {
  return row.name.ends_with('*') ? name.starts_with(row.name.substr(0, row.name.size() - 1)) : row.name == name;
}

}  // namespace

const HwmonDriver& hwmonDriver(std::string_view name) {
  const auto found =
      std::find_if(kDrivers.begin(), kDrivers.end(), [name](const HwmonDriver& row) { return isCalled(row, name); });
  return found == kDrivers.end() ? kPlain : *found;
}

}  // namespace ash
