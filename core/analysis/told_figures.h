// SPDX-License-Identifier: GPL-3.0-or-later
// Figures that a document told earlier (`ashg analyze --json`, `ashg compare --json`, the figures of a page), held
// against what is worked out today: an older method is not kept in the program, but what it told is in the hands of
// whoever published it.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/result.h"

namespace ash {

/// Where a value stands, from the outside in: {"channels", "cpu.temp", "settled", "forecast"}. Parts of a list are
/// known by what they are of: a setup and its load, a device, a channel, a run.
using ToldPlace = std::vector<std::string>;

/// A number, a word or yes/no as it was told and as it is told now; null where it is not told.
struct MovedFigure {
  ToldPlace place;
  Json was, now;
};

/// An earlier document beside one of today.
struct FiguresBeside {
  std::string wasMethod, nowMethod;
  size_t same = 0;                 ///< values that are equal, to 1e-9 and to 1e-9 of themselves
  std::vector<MovedFigure> moved;  ///< in the order of today's document
  std::vector<ToldPlace> gained;   ///< told now only
  std::vector<MovedFigure> lost;   ///< told earlier only, of setups, readings and devices that are told now, too
};

/// Both are documents of the same kind, or `was` the figures of a page and `now` a comparison; what is compared are
/// values, not sentences. Error::badInput, in one sentence with `where`, when `was` names no method (it is no document
/// of figures) or shares no place with `now`.
Result<FiguresBeside> besideTold(const Json& was, const Json& now, const std::string& where);

/// {"figures_method", "same", "moved": [{"place", "was", "now"}], "gained": [place], "lost": [{"place", "was"}]}, the
/// method being the earlier one.
Json besideToJson(const FiguresBeside& beside);

}  // namespace ash
