// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace ash {

/// A drawing of the page as a file of its own: what it inherits from the page's style sheet is written into it.
/// `family` is the font's.
std::string standAloneSvg(std::string svg, const std::string& family);

}  // namespace ash
