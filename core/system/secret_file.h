// SPDX-License-Identifier: GPL-3.0-or-later
// Secrets come from files that only their user may read, never from a command line.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

/// The first line of a file, blanks cut. Refused when the file cannot be read or may be read by others (its mode must
/// be 0600 or less), and when the line is empty, longer than 4096 bytes or holds control characters. The secret is in
/// no message.
Result<std::string> readSecret(const std::string& path);

}  // namespace ash
