// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a run, within a transaction of the caller's; all of these throw what SQLite says.
#pragma once

#include <string>
#include <vector>

#include "model/samples.h"
#include "model/study.h"

namespace SQLite {
class Database;
}

namespace ash {

/// In a run's `extra`: what its load did.
inline constexpr char kLoadOfRun[] = "load";
/// How many sweeps are joined into one block.
inline constexpr size_t kSweepsOfABlock = 1024;

/// Finds or makes a study, a setup and a load in it; an old row keeps its own.
void insertPlace(SQLite::Database& database, const std::string& study, const Setup& setup, const Load& load);

/// The run's row, as "running" with this process as its recorder; `info.repeat` becomes the next free number.
void insertRun(SQLite::Database& database, RunInfo& info);
/// Numbered from `first` on.
void insertSources(SQLite::Database& database, const std::string& run, const std::vector<SourceInfo>& sources,
                   int first = 0);
void insertBlock(SQLite::Database& database, const std::string& run, int source, int number, const SampleBlock& block);

}  // namespace ash
