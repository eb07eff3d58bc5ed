// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of what a reader must know of a log or a run.
#pragma once

#include <array>

#include "model/open_word.h"

namespace ash {

struct ProblemWords {
  enum Known {
    // Of the log as it was read.
    Truncated,
    BackwardTime,
    RepeatedTime,
    BadCell,
    UnitMismatch,
    Damaged,
    // Of its readings.
    Gap,
    Spike,
    Stuck,
    Saturated,
    Excursion,
    UnitSuspected,
    SourcesDisagree,
    EnergyGap,
    // Of the run.
    MissingRoom,
    NotSettled,
    ShortRun,
    BackgroundLoad,
    StartedWarm,
    RoomMoved,
    FanMoved,
    SeveralLoads,
    CacheFull,
    DriveSlowed,
    // Told by the recorder while it ran.
    NoTemperature,
    MissingReading,
    NotAsAsked,
    BeforeStart,
    NoSocket,
    Lost,
    Rule,
    SlowSource,
    Bench,
    Recorder,
    Other
  };
  static constexpr std::array<std::string_view, Other> kWords = {"truncated",
                                                                 "backward_time",
                                                                 "repeated_time",
                                                                 "bad_cell",
                                                                 "unit_mismatch",
                                                                 "damaged",
                                                                 "gap",
                                                                 "spike",
                                                                 "stuck",
                                                                 "saturated",
                                                                 "excursion",
                                                                 "unit_suspected",
                                                                 "sources_disagree",
                                                                 "energy_gap",
                                                                 "missing_room",
                                                                 "not_settled",
                                                                 "short_run",
                                                                 "background_load",
                                                                 "started_warm",
                                                                 "room_moved",
                                                                 "fan_moved",
                                                                 "several_loads",
                                                                 "cache_full",
                                                                 "drive_slowed",
                                                                 "no_temperature",
                                                                 "missing_reading",
                                                                 "not_as_asked",
                                                                 "before_start",
                                                                 "socket",
                                                                 "lost",
                                                                 "rule",
                                                                 "slow_source",
                                                                 "bench",
                                                                 "recorder"};
};
/// A kind that this version does not know is kept by its word.
using ProblemKind = OpenWord<ProblemWords>;

}  // namespace ash
