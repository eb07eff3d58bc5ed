// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace ash::cli {

/// Lists commands, addresses and knobs of a book, and with `all` confirms them for this machine. Returns the exit
/// status.
int allowBook(const std::string& path, bool all, bool json);

}  // namespace ash::cli
