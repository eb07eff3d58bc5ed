// SPDX-License-Identifier: GPL-3.0-or-later
// The clocks of this machine.
#pragma once

#include <string>

namespace ash {

/// Seconds of CLOCK_BOOTTIME: the time axis of a log. It goes on while the machine sleeps.
double bootTimeS();

/// Seconds of CLOCK_MONOTONIC: for pacing and time-outs.
double monotonicS();

/// The date and time now, ISO 8601 with the local offset: "2026-05-04T09:30:00+02:00".
std::string isoTimeNow();

}  // namespace ash
