// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes as text (RFC 4648, 4).
#pragma once

#include <string>
#include <string_view>

namespace ash {

/// With padding, in one line.
std::string base64Of(std::string_view bytes);

}  // namespace ash
