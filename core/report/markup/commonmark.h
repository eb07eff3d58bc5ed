// SPDX-License-Identifier: GPL-3.0-or-later
// The page's own elements as CommonMark (spec 0.30). Tables become lists, as CommonMark has none.
#pragma once

#include <functional>
#include <string>
#include <string_view>

#include "report/markup/markup.h"

namespace ash {

/// Text that means itself: whatever CommonMark would take for a mark is escaped, at the start of a line also what would
/// begin a list or a heading.
std::string commonMarkText(std::string_view words, bool isLineStart = true);

/// `picture` is handed each drawing (its whole <svg>) and its words, and gives back where it is to be found; empty
/// leaves it out.
using PictureOf = std::function<std::string(const std::string& svg, const std::string& words)>;
std::string commonMarkOf(const Markup& markup, const PictureOf& picture);

}  // namespace ash
