// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace ash {

/// Wide: a figure a row, a setup a column. Narrow, for a phone: a figure a block, its setups below each other.
enum class PageForm { Wide, Narrow };

}  // namespace ash
