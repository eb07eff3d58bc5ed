// SPDX-License-Identifier: GPL-3.0-or-later
// Names of any length in a drawing that cannot measure its text: how wide they will be at most, and how they are
// broken.
#pragma once

#include <string>
#include <vector>

namespace ash {

/// The width in px that a text takes at most at a font size, by the letters of a wide sans-serif. UTF-8.
double widthAtMost(const std::string& text, double fontPx);

/// Lines of at most so many px, broken between words; what would not do even so loses its middle to an
/// ellipsis.
std::vector<std::string> brokenLabel(const std::string& text, double fontPx, double mostPx, size_t mostLines);

}  // namespace ash
