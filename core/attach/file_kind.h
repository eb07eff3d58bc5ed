// SPDX-License-Identifier: GPL-3.0-or-later
// What a file is, by its first bytes and never by its name alone.
#pragma once

#include <string>
#include <string_view>

namespace ash {

struct FileKind {
  std::string_view type;   ///< media type (RFC 6838); "application/octet-stream" for what is not known
  bool isPicture = false;  ///< one that is decoded, scaled and kept without what its camera wrote into it
};

/// By the signatures of the formats' own standards. A vector drawing (SVG) can do more than be looked at and counts as
/// text.
FileKind fileKindOf(std::string_view bytes);

/// True for a name that ends as those of pictures do.
bool isCalledPicture(std::string_view name);

}  // namespace ash
