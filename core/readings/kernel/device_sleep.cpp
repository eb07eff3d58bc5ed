// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/device_sleep.h"

#include "readings/kernel/found.h"

namespace ash {
namespace {
std::filesystem::path statusFile(const std::filesystem::path& device) { return device / "power/runtime_status"; }
}  // namespace

std::optional<std::string> sleepFileOf(const std::filesystem::path& device) {
  std::error_code error;
  if (!std::filesystem::exists(statusFile(device), error)) return std::nullopt;
  return statusFile(device).string();
}

bool isAsleep(const std::filesystem::path& device) { return readWords(statusFile(device)) == "suspended"; }

}  // namespace ash
