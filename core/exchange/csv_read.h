// SPDX-License-Identifier: GPL-3.0-or-later
// A run as CSV, and its sidecar: docs/analysis-contract.md §1.
#pragma once

#include <map>
#include <string>

#include "model/result.h"
#include "model/run_facts.h"

namespace ash {

/// Reads a log. Bad input is refused whole: one sentence with file, line and column. What can be lived with (a cell
/// that is no number, a cut last line, a repeated time) is taken and listed in log.problems.
Result<Log> readCsvLog(const std::string& path);

/// The same on a text that is already in memory; `where` names it in messages.
Result<Log> parseCsvLog(const std::string& bytes, const std::string& where);

/// Reads RUN.meta.json. Unknown keys are kept in `extra`.
Result<RunFacts> readSidecar(const std::string& path);
Result<RunFacts> parseSidecar(const std::string& text, const std::string& where);

/// RUN.csv and, where it is there, RUN.meta.json beside it. The setup is the file's name where none is given.
Result<RunLog> readRunFiles(const std::string& csvPath);

/// RUN.csv -> RUN
std::string runNameOfFile(const std::string& path);

}  // namespace ash
