// SPDX-License-Identifier: GPL-3.0-or-later
// Devices that the kernel puts to sleep (Documentation/power/runtime_pm.rst): reading them would wake them.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

namespace ash {

/// The file that tells whether a device sleeps; none where it never does.
std::optional<std::string> sleepFileOf(const std::filesystem::path& device);

/// Whether it sleeps now.
bool isAsleep(const std::filesystem::path& device);

}  // namespace ash
