// SPDX-License-Identifier: GPL-3.0-or-later
// What a column of a foreign log is called, and what its first cells hold.
#pragma once

#include <cmath>
#include <string>
#include <vector>

#include "intake/log_shape.h"

namespace ash {

struct NameAndUnit {
  std::string name, unit;
};

/// "CPU Package [°C]", "Fan (RPM)", "Power, W", "Room in °C": the unit is taken off where it is one.
NameAndUnit splitName(const std::string& header);
/// A unit out of its brackets; empty for "-".
std::string bareUnit(std::string unit);
/// "Time", "Datum", "Elapsed" …
bool isTimeName(const std::string& name);

/// How many cells are what; numbers also by how they go.
struct Content {
  size_t numbers = 0, states = 0, words = 0, clocks = 0, dates = 0;
  size_t measured = 0;  ///< of the numbers those with a unit in the cell
  std::string unit;     ///< the first of these
  bool isRising = true;
  double first = NAN, last = NAN;
  size_t filled() const { return numbers + states + words + clocks + dates; }
};
/// Most of the filled cells.
bool isMostly(size_t part, const Content& content);

/// Of every column, over the first lines.
class Contents {
 public:
  Contents(LogShape& shape, const std::vector<HeadRecord>& head);
  const Content& of(size_t cell) const { return m_all[cell]; }
  bool holdsTimeOfDay(size_t cell) const { return isMostly(of(cell).clocks, of(cell)); }
  bool holdsDate(size_t cell) const { return isMostly(of(cell).dates, of(cell)); }

 private:
  std::vector<Content> m_all;
};

/// A date without a time of day needs the column that has it.
bool isDateOnly(LogShape& shape, const std::vector<HeadRecord>& head, size_t cell);

}  // namespace ash
