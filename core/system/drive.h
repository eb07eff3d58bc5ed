// SPDX-License-Identifier: GPL-3.0-or-later
// Which drives a file lies on.
#pragma once

#include <string>
#include <vector>

namespace ash {

/// Kernel names of the whole drives that carry a file or folder ("nvme0n1"), through partitions and mapped devices,
/// sorted; empty where that cannot be told (memory, network). `sysfs` is where /sys is, for tests.
std::vector<std::string> drivesOf(const std::string& path, const std::string& sysfs = "/sys");

/// The drives of block device MAJOR:MINOR below `sysfs`. Source: /sys/dev/block, Documentation/ABI/stable/sysfs-block.
std::vector<std::string> drivesOfDevice(unsigned major, unsigned minor, const std::string& sysfs);

}  // namespace ash
