// SPDX-License-Identifier: GPL-3.0-or-later
// Separated values, one record at a time: separator, decimal comma, cells and their numbers.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ash {

struct CsvFormat {
  char separator = ',';
  bool hasDecimalComma = false;
};

/// From the beginning of a file: the separator is the one of `,` `;` tab that the header has most of; with `;` or tab a
/// comma between digits is a decimal comma.
CsvFormat detectCsvFormat(std::string_view head);

/// The cells of a record by RFC 4180, quotes taken off and blanks around cells cut.
std::vector<std::string> splitCells(std::string_view record, char separator);

/// A cell as a number; empty for "", NaN, N/A and "-" (isMissing true) and for text (isMissing false).
struct CellNumber {
  std::optional<double> value;
  bool isMissing = false;
};
CellNumber readCell(std::string_view cell, bool hasDecimalComma);

/// A plain decimal number that fills a cell, correctly rounded: digits with an optional sign and decimal mark, few
/// enough that a double holds them. False for everything else, which readCell() may still understand.
bool readPlainNumber(const char* begin, const char* end, char decimalMark, double& value);

}  // namespace ash
