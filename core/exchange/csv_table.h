// SPDX-License-Identifier: GPL-3.0-or-later
// Separated values as rows of cells: quoting, separator and decimal comma.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

struct CsvRow {
  size_t line = 0;  ///< where it starts, from 1
  std::vector<std::string> cells;
};

struct CsvTable {
  char separator = ',';
  bool hasDecimalComma = false;
  std::vector<CsvRow> rows;     ///< the header first; blank lines left out
  bool endsWithNewline = true;  ///< false: the last line may have been cut off
  bool endsInsideQuotes = false;
};

/// Splits UTF-8 text by RFC 4180. The separator is the one of `,` `;` tab that the header has most of; with `;` or tab
/// a comma between digits is a decimal comma.
CsvTable splitCsv(const std::string& text);

/// A cell as a number; empty for "", NaN, N/A and "-" (isMissing true) and for text (isMissing false).
struct CellNumber {
  std::optional<double> value;
  bool isMissing = false;
};
CellNumber readCell(const std::string& cell, bool hasDecimalComma);

/// A time cell: seconds as a number (any origin), a clock time h:mm:ss, or a date with time (ISO 8601, d.m.y, y/m/d) as
/// seconds since 1970. Empty when it is none of them.
std::optional<double> readTimeCell(const std::string& cell, bool hasDecimalComma);

}  // namespace ash
