// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes of a log to UTF-8: byte-order marks, UTF-16, Windows-1252.
#pragma once

#include <string>
#include <string_view>

#include "model/result.h"

namespace ash {

enum class Encoding { Utf8, Windows1252, Utf16, Binary };

/// From the beginning of a file. Zeros at the very end do not count: a machine that lost its power leaves them.
Encoding detectEncoding(const std::string& head);

/// Windows-1252 as UTF-8.
std::string fromWindows1252(std::string_view bytes);

/// Detects the encoding and returns UTF-8 without a byte-order mark. Binary files are refused.
Result<std::string> toUtf8(const std::string& bytes, const std::string& where);

}  // namespace ash
