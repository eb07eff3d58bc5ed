// SPDX-License-Identifier: GPL-3.0-or-later
// Whether the number at the end of a file without an end of line was cut.
#pragma once

#include <string_view>
#include <vector>

namespace ash {

/// Remembers how many decimals the last cells of the first rows had.
class LastCells {
 public:
  explicit LastCells(char decimalMark = '.') : m_mark(decimalMark) {}
  void take(std::string_view last);
  /// True for half a number, and for one with fewer decimals than every row before had. One that is cut within its
  /// whole digits, or that had decimals only sometimes, cannot be told.
  bool isCut(std::string_view last) const;

 private:
  size_t decimalsOf(std::string_view cell) const;
  char m_mark;
  std::vector<size_t> m_decimals;
};

}  // namespace ash
