// SPDX-License-Identifier: GPL-3.0-or-later
// Where this person's own files are kept (XDG Base Directory Specification).
#pragma once

#include <string>

namespace ash {

/// $XDG_CONFIG_HOME/ash-gauge, else ~/.config/ash-gauge: what a person has decided. Empty without a home.
std::string configFolder();

/// $XDG_STATE_HOME/ash-gauge, else ~/.local/state/ash-gauge: what is remembered. Empty without a home.
std::string stateFolder();

}  // namespace ash
