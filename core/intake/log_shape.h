// SPDX-License-Identifier: GPL-3.0-or-later
// How a foreign log is laid out, found from its first lines: separator, decimal mark, header, units.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "model/result.h"

namespace ash {

/// A record of the file's beginning.
struct HeadRecord {
  size_t line = 0;  ///< physical, from 1
  std::string text;
  bool isOpen = false;  ///< the file ends within it
};

/// Cuts a record into its cells.
class CellCutter {
 public:
  CellCutter() = default;
  explicit CellCutter(char separator) : m_separator(separator) {}
  /// Fixed width: each column from one place to the next. A blank as separator stands for any number of them.
  explicit CellCutter(std::vector<size_t> starts) : m_starts(std::move(starts)) {}
  /// 0 for fixed width.
  char separator() const { return m_separator; }
  /// Blanks around cells are cut, quotes taken off. The cells stand until the next call, or as long as the record.
  const std::vector<std::string_view>& cut(std::string_view record);

 private:
  void cutPlain(std::string_view record);
  char m_separator = 0;
  std::vector<size_t> m_starts;
  std::vector<std::string_view> m_cells;
  std::vector<std::string> m_quoted;
};

struct LogShape {
  CellCutter cutter;
  char decimal = '.';
  size_t cells = 0;                       ///< of a data record
  size_t headerLine = 0;                  ///< 0 = there is none
  size_t firstLine = 0;                   ///< of the first data record
  std::string headerText;                 ///< to know it again where it is repeated
  std::vector<std::string> names, units;  ///< by cell; units of a row of their own, or empty
};

/// The error says that there is no log in it.
Result<LogShape> shapeOf(const std::vector<HeadRecord>& head, const std::string& where);

/// A number as logs write them: digits, sign, exponent, thousands apart by blanks, ' or the other mark; true when it is
/// one. "", NaN, N/A, -, --, NULL, ∞ are missing: true with NaN.
bool readLogNumber(std::string_view cell, char decimal, double& value);

/// "41.5 °C" taken apart: a number with a unit that is known, parted by a blank ("12V" is the name of a rail).
struct MeasuredCell {
  std::string_view number, unit;
};
std::optional<MeasuredCell> splitMeasured(std::string_view cell);
/// Words of a state: yes and no, on and off, true and false, in several languages.
std::optional<bool> readState(std::string_view cell);

}  // namespace ash
