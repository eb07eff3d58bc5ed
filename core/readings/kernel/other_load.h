// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine does beside the load under test: the CPU time of everything (/proc/stat) less that of the recorder
// and of its load (/proc/PID/stat).
#pragma once

#include <atomic>
#include <memory>
#include <string>

#include "readings/gauges/gauge_source.h"

namespace ash {

/// CPU time in ticks of a line of /proc/PID/stat: of the process itself, and of its children that have ended
/// (Documentation/filesystems/proc.rst, table 1-4). Empty when the line is none.
struct ProcessTicks {
  double own = 0;
  double ofEndedChildren = 0;
};
std::optional<ProcessTicks> parseProcessTicks(std::string_view line);

/// A source with one reading, role cpu.load.other: percent of all CPUs. `loadPid` is the load's process, 0 while none
/// runs; it may be changed by another thread.
std::unique_ptr<GaugeSource> makeOtherLoadSource(std::shared_ptr<const std::atomic<int>> loadPid);

}  // namespace ash
