// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes of a log to UTF-8: byte-order marks, UTF-16, Windows-1252.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

/// Detects the encoding and returns UTF-8 without a byte-order mark. Binary files are refused.
Result<std::string> toUtf8(const std::string& bytes, const std::string& where);

}  // namespace ash
