// SPDX-License-Identifier: GPL-3.0-or-later
// What was understood of a foreign log.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "intake/head_marks.h"
#include "intake/log_plan.h"
#include "model/json.h"
#include "model/samples.h"

namespace ash {

struct RefusedCell {
  size_t line = 0, column = 0;  ///< physical line and field, both from 1
  std::string text;
};

struct ColumnFacts {
  PlannedColumn column;
  size_t taken = 0, refused = 0;
  std::optional<RefusedCell> firstRefused;
};

/// What was understood of a log: what --look prints.
struct LogFacts {
  std::string file, encoding;
  char separator = ',', decimal = '.';  ///< separator 0 = fixed width
  size_t headerLine = 0, firstLine = 0, rows = 0;
  std::vector<std::string> timeNames;
  std::string timeFormat;
  std::optional<double> startsS;  ///< since 1970; empty where no date is told
  bool startsInUtc = false;       ///< a zone was told, or it counts from 1970
  double ownStartS = 0;           ///< what its own clock says at the first row, where it counts seconds; else 0
  double intervalS = 0;           ///< median
  double closestS = 0;            ///< between any two rows
  double lengthS = 0;
  std::vector<ColumnFacts> columns;
  std::vector<Problem> problems;
  std::vector<HeadLine> head;  ///< its first lines; not in factsToJson()
};

/// When it starts, ISO 8601, with "Z" where a zone is known; empty where no date is told.
std::string startText(const LogFacts& facts);

/// What cannot be told of such a log for want of a reading, one sentence each; empty when nothing is wanting.
std::vector<std::string> whatItCannotTell(const LogFacts& facts);

/// As `ashg import --json` prints it.
Json factsToJson(const LogFacts& facts);

}  // namespace ash
