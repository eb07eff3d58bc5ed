// SPDX-License-Identifier: GPL-3.0-or-later
// Days of the calendar, and moments as ISO 8601 writes them.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ash {

/// Seconds from 1970-01-01 to a day of the Gregorian calendar; none for one that it does not have (31 February).
std::optional<double> daySeconds(int year, int month, int day);

/// "+02:00", "-0530", "+02" in seconds east of Greenwich; "Z" and nothing are 0. None for what is no zone.
std::optional<double> zoneSeconds(std::string_view zone);

/// Seconds since 1970 of "2026-05-04T09:30:00" with or without a zone, as runs are stamped; parts of a second are left
/// out. None for anything else.
std::optional<double> isoSeconds(std::string_view moment);

/// "2026-05-04T09:30:00" of seconds since 1970, without a zone; parts of a second are left out.
std::string isoDateText(double seconds);

}  // namespace ash
