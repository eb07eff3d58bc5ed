// SPDX-License-Identifier: GPL-3.0-or-later
// Runs that nobody closed: what became of them, why as far as it can be told, and their last minute.
#pragma once

#include <string>
#include <vector>

#include "book/book.h"

namespace ash {

inline constexpr double kLastMinuteS = 60;

struct InterruptedRun {
  RunSummary run;               ///< outcome and reason as they now stand in the book
  Log lastMinute;               ///< its last 60 s
  double loadGoneS = kMissing;  ///< so long before the end the load had done nothing any more; missing = it worked
};

/// Closes the runs of a book whose recorder is gone, each with its reason, and tells of them. `root` is "" for this
/// machine: its kernel log may know who ended a recorder.
Result<std::vector<InterruptedRun>> closeInterrupted(Book& book, const std::string& root = "");

/// The reason in one or two sentences. `run` holds at least the last minute; `killed` is what the kernel's log says of
/// the recorder, empty when nothing.
std::string reasonOfInterruption(const RunSummary& summary, const RunLog& run, const std::string& killed);

/// Columns that matter for the last minute, at most `most`: temperatures with a limit first, then clock, power, work,
/// fans.
std::vector<const Channel*> tellingChannels(const Log& log, const std::string& watched, size_t most);

}  // namespace ash
