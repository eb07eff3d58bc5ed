// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures and other files of a run and of its setup, as part of a whole run (whole_run.h). All of these throw what
// SQLite says.
#pragma once

#include <string>
#include <vector>

#include "book/whole_run.h"

namespace SQLite {
class Database;
}

namespace ash {

/// Those of the run and of the setup it was made with, in the order in which they came.
std::vector<WholeFile> wholeFilesOf(SQLite::Database& database, const std::string& run);

/// Keeps them with a run and its setup; one of the setup's that is there already, by its bytes, is left out.
void insertWholeFiles(SQLite::Database& database, const std::string& run, int64_t setup,
                      const std::vector<WholeFile>& files);

/// Why they cannot be kept, a part of a sentence; empty = they can.
std::string refusalOf(const std::vector<WholeFile>& files);

}  // namespace ash
