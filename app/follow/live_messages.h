// SPDX-License-Identifier: GPL-3.0-or-later
// A run of the book, and its sweeps, as the window's values. Pure. What comes over the socket: runner/run_messages.h.
#pragma once

#include "app/follow/live_run.h"
#include "model/study.h"

namespace ash {

LiveRunInfo liveInfo(const RunInfo& info, const RunLog& run);
int setupIndex(const std::vector<Study>& studies, const std::string& study, const std::string& setup);
/// Adds one sweep to a log whose rows are moments: a stamp within a quarter of an interval belongs to the last row.
void appendRow(Log& log, const std::vector<std::string>& columns, const LiveSamples& samples, double intervalS);

}  // namespace ash
