// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/own_folders.h"

#include <cstdlib>

namespace ash {
namespace {

std::string folderOf(const char* variable, const char* belowHome) {
  const char* given = std::getenv(variable);
  if (given != nullptr && *given != '\0') return std::string(given) + "/ash-gauge";
  const char* home = std::getenv("HOME");
  return home == nullptr || *home == '\0' ? std::string() : std::string(home) + belowHome;
}

}  // namespace

std::string configFolder() { return folderOf("XDG_CONFIG_HOME", "/.config/ash-gauge"); }
std::string stateFolder() { return folderOf("XDG_STATE_HOME", "/.local/state/ash-gauge"); }

}  // namespace ash
