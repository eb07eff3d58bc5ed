// SPDX-License-Identifier: GPL-3.0-or-later
// A reading in words for the page Readings.
#pragma once

#include <QString>

#include "machine/machine_snapshot.h"

namespace ash {

/// Its meaning, told apart from others with the same one by its device.
QString readingWords(const Reading& reading);
/// "54.3 °C".
QString readingValue(const ReadingNow& now);
/// What it went through while it was looked at: "41.0 to 54.3"; empty before anything was seen.
QString seenText(const ReadingNow& now);
/// Why its value may be no news: "3 s old", "gone", "no answer", "not logged", "still 12 min"; empty when it is fresh.
QString ageText(const ReadingNow& now);

}  // namespace ash
