// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace ash {

/// SHA-256 (FIPS 180-4) of bytes, as 64 hexadecimal digits in small letters.
std::string sha256Hex(std::string_view bytes);

}  // namespace ash
