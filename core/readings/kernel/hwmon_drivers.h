// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of a chip by its driver alone, in one table. Sources: Documentation/hwmon of the kernel.
#pragma once

#include <string>
#include <string_view>

namespace ash {

/// Where a chip's address tells the person which of several it is.
enum class ChipPlace {
  Address,      ///< of its bus
  ModuleSlot,   ///< of a memory module: the lowest three bits
  DriveSerial,  ///< by the drive it sits in
};

struct HwmonDriver {
  std::string_view name = {};  ///< "nct6*" stands for all that begin so
  double paceS = 0;            ///< a slow device is asked no more often than that; 0 = as often as is recorded
  double refreshS = 0;         ///< how often it renews its values; repeats within are no news
  ChipPlace place = ChipPlace::Address;
  bool paceByRotation = false;     ///< a drive that turns is asked less often still
  bool fanEnableIsManual = false;  ///< fan1_enable says who controls it, not whether it is read
  bool slowsAtCritical = false;    ///< the critical limit is where it slows down, danger lies further up
  bool criticalIsRated = false;    ///< power1_crit is the processor's rated power
};

/// The row of a driver; one without a row has nothing special about it.
const HwmonDriver& hwmonDriver(std::string_view name);

}  // namespace ash
