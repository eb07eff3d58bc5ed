// SPDX-License-Identifier: GPL-3.0-or-later
// Paths below a root folder: the machine's own ("") or a tree that looks like one.
#pragma once

#include <filesystem>
#include <string>

namespace ash {

/// `file` with its links resolved, relative to `root`, without a leading slash.
std::string pathBelowRoot(const std::string& root, const std::filesystem::path& file);

}  // namespace ash
