// SPDX-License-Identifier: GPL-3.0-or-later
// What a person has confirmed on this machine, kept outside of any book.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

/// Texts that were confirmed, from $XDG_CONFIG_HOME/ash-gauge/confirmed.json (~/.config without it). A file that is
/// missing or broken confirms nothing.
std::set<std::string> confirmedTexts();

/// Adds texts to it; the file is its user's alone (0600) and is replaced whole.
Status confirmTexts(const std::vector<std::string>& texts);

}  // namespace ash
