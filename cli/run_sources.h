// SPDX-License-Identifier: GPL-3.0-or-later
// Runs named on a command line: a CSV file, or an id in a book.
#pragma once

#include <string>
#include <vector>

#include "analysis/comparison/compare.h"
#include "model/result.h"

namespace ash::cli {

/// `name` is a path, a file's name without .csv, or with a book a run's id; "OTHER.ashbook#RUN" names its own book. A
/// study and setup ("STUDY/SETUP") names all of its runs that count: here it must have one.
Result<RunLog> findRun(const std::string& name, const std::string& bookPath);

/// All of them, analysed. Setups of one name in two studies or books get theirs: "Mesh of Which side panel?".
Result<std::vector<AnalyzedRun>> findRuns(const std::vector<std::string>& names, const std::string& bookPath);

}  // namespace ash::cli
