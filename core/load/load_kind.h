// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of load there are.
#pragma once

#include <array>

#include "model/open_word.h"

namespace ash {

struct LoadWords {
  enum Known { Vector, Integer, Cache, Memory, Mixed, Storage, Graphics, Command, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"vector", "integer", "cache",    "memory",
                                                                 "mixed",  "storage", "graphics", "command"};
};
/// A kind that this version does not have is kept by its word and refused when it is to run.
using LoadKind = OpenWord<LoadWords>;

}  // namespace ash
