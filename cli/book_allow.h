// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace ash::cli {

/// Lists commands, addresses, knobs and benches of a book, and what it says of the readings of the machine below
/// `root`, each whole, and with `all` confirms them for this machine. Returns the exit status.
int allowBook(const std::string& path, const std::string& root, bool all, bool json);

}  // namespace ash::cli
