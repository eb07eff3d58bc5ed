// SPDX-License-Identifier: GPL-3.0-or-later
// The first lines of a foreign log as they stand, with what was understood of them in its place.
#pragma once

#include <string>
#include <vector>

#include "intake/log_plan.h"

namespace ash {

enum class HeadMarkKind {
  Time,     ///< read as time, or the name of the time column
  Unit,     ///< told the unit of its column
  Decimal,  ///< the decimal mark of a number
  LeftOut,  ///< holds no row of readings
  Refused,  ///< no number in a column of numbers
};

/// Bytes [from, to) of a line's text.
struct HeadMark {
  size_t from = 0, to = 0;
  HeadMarkKind kind = HeadMarkKind::Time;
  bool operator==(const HeadMark&) const = default;
};

struct HeadLine {
  size_t line = 0;   ///< physical, from 1
  std::string text;  ///< UTF-8 without control characters, cut off at 400 bytes
  std::vector<HeadMark> marks;
};

/// Lines up to some rows below the header, at most 60.
std::vector<HeadLine> markedHead(const std::vector<HeadRecord>& head, LogShape shape, const LogPlan& plan);

}  // namespace ash
