// SPDX-License-Identifier: GPL-3.0-or-later
// Dates whose month is a word: "14-Nov-2026", "Nov 14, 2026", "Sat 14. November 2026".
#pragma once

#include <optional>
#include <string_view>

namespace ash {

struct NamedDate {
  double seconds = 0;  ///< since 1970, at midnight
  size_t length = 0;   ///< of the text that tells it; a time of day may follow
};

/// At the beginning of a text; a day of the week before it is passed over. Months in English, German, French, Spanish,
/// Italian, by their first letters.
std::optional<NamedDate> readNamedDate(std::string_view text);

}  // namespace ash
