// SPDX-License-Identifier: GPL-3.0-or-later
// Time stamps as they come, to an axis that never runs back.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "exchange/time_cell.h"

namespace ash {

class TimeAxis {
 public:
  explicit TimeAxis(double factor = 1, bool hasDecimalComma = false)
      : m_factor(factor), m_hasDecimalComma(hasDecimalComma) {}

  /// The place of a stamp (s, origin of the file); empty when the cell is no time. A clock that passes midnight goes
  /// on; after any other way back the axis carries on from the last good stamp.
  std::optional<double> place(std::string_view cell);

  struct Backward {
    double atS = 0, jumpS = 0;
  };
  const std::vector<Backward>& backward() const { return m_backward; }
  /// True where dates stand in an order that nothing in them tells: all of one day, day and month both below 13.
  bool isDayOrderOpen() const { return m_hasOpenDates && !m_hasSureDates && m_mayBeOther; }
  /// What the first stamp was; missing before it.
  std::optional<TimeCell> first() const { return m_first; }
  /// Seconds by which the first date was moved when a later one showed the order in which they are written; the places
  /// stay where they are.
  double originTurnedS() const { return m_originTurnedS; }
  const std::vector<double>& repeatedAt() const { return m_repeatedAt; }

 private:
  std::optional<TimeCell> read(std::string_view cell) const;
  double swapOrder(std::string_view cell, double seconds);

  double m_factor;
  bool m_hasDecimalComma;
  DayOrder m_order = DayOrder::DayFirst;
  bool m_mayBeOther = true;  // no date has shown yet which order it is in
  std::string m_lastCell;    // only while dates are read in an open order
  bool m_hasOpenDates = false, m_hasSureDates = false;
  std::optional<TimeCell> m_first;
  bool m_hasAny = false;
  std::string m_firstCell;  // of a date
  double m_originTurnedS = 0;
  double m_lastRaw = 0, m_last = 0, m_shiftS = 0, m_lastStepS = 0;
  std::vector<Backward> m_backward;
  std::vector<double> m_repeatedAt;
};

}  // namespace ash
