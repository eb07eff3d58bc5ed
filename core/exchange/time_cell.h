// SPDX-License-Identifier: GPL-3.0-or-later
// A cell of the time column, in every layout that logs use.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ash {

/// Which part of a date comes first, where its year has not four digits in front.
enum class DayOrder { DayFirst, MonthFirst, YearFirst };
inline constexpr DayOrder kDayOrders[] = {DayOrder::DayFirst, DayOrder::MonthFirst, DayOrder::YearFirst};

struct TimeCell {
  enum class Kind { Seconds, Clock, Date };
  double seconds = 0;  ///< a number as it stands; since midnight for a clock time; since 1970 for a date
  Kind kind = Kind::Seconds;
  bool isOrderOpen = false;  ///< a date that would be another one in another order
  bool hasZone = false;      ///< a date whose seconds are those of its zone: since 1970 as UTC
};

/// Seconds as a number (any origin), a clock time h:mm:ss with or without AM/PM, or a date with time (ISO 8601, d.m.y,
/// d/m/y, m/d/y, y/m/d; years of two digits are of this century, and stand in front only between
/// dashes). A date that is none in the order asked for is read in another. Empty when it is none of them.
std::optional<TimeCell> readTimeCell(std::string_view cell, bool hasDecimalComma, DayOrder order = DayOrder::DayFirst);

}  // namespace ash
