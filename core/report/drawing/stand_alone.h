// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace ash {

/// A drawing as a file of its own: the font that it inherits from the page is written into it. `family` is the
/// font's.
std::string standAloneSvg(std::string svg, const std::string& family);

}  // namespace ash
