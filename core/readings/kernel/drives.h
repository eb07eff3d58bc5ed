// SPDX-License-Identifier: GPL-3.0-or-later
// Drives: what they read and write (/proc/diskstats, Documentation/admin-guide/iostats.rst), and who they are.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

std::vector<Finder> driveFinders(const std::string& root);

/// One line of /proc/diskstats.
struct DriveCounts {
  std::string_view name;
  uint64_t sectorsRead = 0, sectorsWritten = 0;  ///< of 512 bytes, always
  uint64_t busyMs = 0;
};
std::vector<DriveCounts> parseDriveCounts(std::string_view text);

/// A drive by what is printed on it, which no reboot changes: "Sablewave Pico 2TB" and its serial number. `folder` is
/// the device's own ("…/nvme/nvme0", "…/target0:0:0/0:0:0:0"). Both may be empty.
struct DriveIdentity {
  std::string model, serial;
  /// "drive:MODEL:SERIAL"; empty without a serial number.
  std::string key() const { return serial.empty() ? std::string() : "drive:" + model + ":" + serial; }
  /// "serial …0042", to tell two of a kind apart.
  std::string tail() const;
};
DriveIdentity readDriveIdentity(const std::filesystem::path& folder);

}  // namespace ash
