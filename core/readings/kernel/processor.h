// SPDX-License-Identifier: GPL-3.0-or-later
// The processor as a whole: its clocks (/sys/devices/system/cpu/cpufreq), the loads of its CPUs (/proc/stat), and what
// is computed from both: the mean clock of the loaded cores, of all and of each cluster.
// Documentation/admin-guide/pm/cpufreq.rst.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

std::vector<Finder> processorFinders(const std::string& root);

/// The mean of the clocks, each core weighted by how busy it is (percent) where that is at least 20; the plain mean
/// while nothing runs or no load is known. NaN = missing.
struct ClockAndLoad {
  double clockMhz, loadPercent;
};
double meanLoadedClockMhz(const std::vector<ClockAndLoad>& cores);

}  // namespace ash
