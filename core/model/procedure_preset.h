// SPDX-License-Identifier: GPL-3.0-or-later
// Procedures that ship, each for a kind of thing under test.
#pragma once

#include <array>
#include <string_view>

namespace ash {

struct ProcedurePreset {
  std::string_view name, what, text;
};

inline constexpr std::array kProcedurePresets = {
    ProcedurePreset{"air", "a cooler with fans: quick to settle",
                    "idle 5min, soak settled 8min..40min, measure 10min, cool 5min"},
    ProcedurePreset{"liquid", "a liquid cooler: the coolant warms up slowly",
                    "idle 10min, soak settled 20min..2h, measure 15min, cool 15min"},
    ProcedurePreset{"passive", "a device or a cooler without fans",
                    "idle 10min, soak settled 30min..4h, measure 20min, cool 30min"},
    ProcedurePreset{"drive", "a drive: passes that show its cache and its heat", "idle 2min, pass x20, cool 5min"},
    ProcedurePreset{"notebook", "a notebook, with what is read by hand while it is hot",
                    "idle 5min, soak settled 10min..1h, measure 10min, "
                    "pause \"read noise and the hottest spots\" at most 5min, cool 10min"},
    ProcedurePreset{"task", "a task that is done three times, each timed", "idle 1min, pass x3, cool 2min"},
    ProcedurePreset{"battery", "a battery run-down until it is empty; battery 20% in its place ends it there",
                    "idle 1min, measure battery empty"},
};

}  // namespace ash
