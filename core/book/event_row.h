// SPDX-License-Identifier: GPL-3.0-or-later
// Rows and files of a run that several parts of this folder write.
#pragma once

#include <string>

#include "model/run_facts.h"

namespace SQLite {
class Database;
}

namespace ash {

/// Throws what SQLite says.
void insertEvent(SQLite::Database& database, const std::string& run, const Event& event);

/// The file that keeps space for the end of a run (space_reserve.h).
std::string reservePath(const std::string& book, const std::string& run);

}  // namespace ash
