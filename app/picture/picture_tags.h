// SPDX-License-Identifier: GPL-3.0-or-later
// What a picture's file says beside its pixels (Exif, IPTC, XMP, texts): told by kind, so that a person knows what is
// left out.
#pragma once

#include <string>
#include <vector>

namespace ash {

struct PictureTags {
  bool hasPlace = false;  ///< where it was taken: position, town, country
  bool hasOwner = false;  ///< who took it, or with whose camera: names, serial numbers
  int others = 0;         ///< fields of any other kind
  std::string taken;      ///< ISO 8601 without zone; empty = not told
};

/// Of a whole file. What cannot be read counts as nothing told: none of it is kept anyway.
PictureTags tagsOf(const std::string& bytes);

/// A text that the picture itself carries, by its key ("Author").
void countText(const std::string& key, PictureTags& tags);

/// "the place where it was taken", …, in this order; empty when there is nothing.
std::vector<std::string> removedWords(const PictureTags& tags);

}  // namespace ash
