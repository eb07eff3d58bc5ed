// SPDX-License-Identifier: GPL-3.0-or-later
// The run's messages (docs/run-socket.md) and the book's rows as the window's values. Pure.
#pragma once

#include "app/follow/live_run.h"
#include "model/json.h"
#include "model/study.h"

namespace ash {

LiveRunInfo liveInfo(const Json& hello);
LiveRunInfo liveInfo(const RunInfo& info, const RunLog& run);
LiveState liveState(const Json& message);
Event liveEvent(const Json& message);
/// Column names of each source's readings, as the book would name them.
std::vector<std::vector<std::string>> columnsOfSources(const Json& hello);
int setupIndex(const std::vector<Study>& studies, const std::string& study, const std::string& setup);
/// Adds one sweep to a log whose rows are moments: a stamp within a quarter of an interval belongs to the last row.
void appendRow(Log& log, const std::vector<std::string>& columns, double timeS, const Json& values, double intervalS);

}  // namespace ash
