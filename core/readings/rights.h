// SPDX-License-Identifier: GPL-3.0-or-later
// How people who are not root may be let read what the kernel keeps for root.
#pragma once

#include <string_view>

namespace ash {

/// The packaged udev rule (packaging/60-ash-gauge.rules) with the steps to install it in its comments.
std::string_view rightsRule();

}  // namespace ash
