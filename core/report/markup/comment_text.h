// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <functional>
#include <optional>
#include <string>

#include "report/markup/markup.h"

namespace ash {

/// A comment that somebody wrote in CommonMark (spec 0.30, read by libcmark) as elements of the page: paragraphs,
/// lists, emphasis, code, quotes, links to http, https and mailto. Raw HTML is text, a picture its words and a heading
/// bold, so that nothing is loaded and no outline but the page's own is made. What is longer than 64 KiB is text as it
/// stands, and what is nested deeper than 16 is left out with a word that says so.
/// Where `figure` knows what stands in braces, braces included ("{Mesh: CPU over room}"), its element stands instead.
using FigureNamed = std::function<std::optional<Markup>(const std::string& named)>;
Markup commentOf(const std::string& commonMark, const FigureNamed& figure = {});

}  // namespace ash
