// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody said of a figure without having measured it here: what the tester expected before the first result, and
// what a maker or another tester claims. Kept in the plan, dated; never a reference that anything is held against.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/json_cursor.h"
#include "model/reading.h"

namespace ash {

enum class StatedKind { Expected, Claimed };

/// What was said before it was changed, or taken back, with a result in the book.
struct StatedBefore {
  double low = kMissing, high = kMissing;
  std::string until;  ///< ISO 8601
  bool operator==(const StatedBefore&) const = default;
};

struct StatedFigure {
  StatedKind kind = StatedKind::Expected;
  std::string by;                          ///< of a claim: who says so
  std::string setup, load;                 ///< names; an empty load = under each
  std::string figure;                      ///< its code, "cpu.over_ambient_k"
  bool isDifference = false;               ///< from the reference setup
  double low = kMissing, high = kMissing;  ///< in the figure's unit as it is kept; equal = one value
  std::string written;                     ///< when it was first said, ISO 8601
  std::string takenBack;                   ///< when, with a result in the book; empty = it stands
  std::vector<StatedBefore> before;

  /// Of the same thing by the same person: the one takes the other's place.
  bool isAboutSame(const StatedFigure& other) const;
  bool operator==(const StatedFigure&) const = default;
};

/// What is unreadable is left out.
std::vector<StatedFigure> statedFrom(const std::vector<JsonCursor>& entries);
Json statedToJson(const std::vector<StatedFigure>& all);

/// Says it. What was said of the same before is changed; with a result of it in the book that is shown for ever.
void state(std::vector<StatedFigure>& all, StatedFigure now, bool hasResult);

/// Takes one back, at a moment (ISO 8601): it goes, or with a result in the book stays and says so.
void takeBack(std::vector<StatedFigure>& all, size_t index, const std::string& when, bool hasResult);

/// What stands `now` is about to become `then` again by an undo: what has a result in the book is not lost by that, it
/// stays as taken back, or as said before.
void keepTraces(const std::vector<StatedFigure>& now, std::vector<StatedFigure>& then, const std::string& when,
                const std::function<bool(const StatedFigure&)>& hasResult);

}  // namespace ash
