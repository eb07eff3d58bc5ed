// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace ash {

/// Wide: a figure a row, a setup a column. Narrow, for a phone: a figure a block, its setups below each other. Either:
/// the reader's screen decides, by the page's style sheet.
enum class PageForm { Wide, Narrow, Either };

}  // namespace ash
