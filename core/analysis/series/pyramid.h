// SPDX-License-Identifier: GPL-3.0-or-later
// A long series of which any part is drawn at once, without a spike lost: the lowest and the highest of every block of
// readings, and of every block of blocks.
#pragma once

#include <cstdint>
#include <utility>
#include <vector>

#include "analysis/series/series.h"

namespace ash {

class Pyramid {
 public:
  Pyramid() = default;
  /// Times rise, values are finite. Time and memory grow with the length, once.
  explicit Pyramid(Series series);

  const Series& series() const { return m_series; }
  bool empty() const { return m_series.empty(); }

  /// At most two readings for each of `columns` equal spans of time between `from` and `to`, the lowest and the highest
  /// in their order, and one reading more beyond each end, so that a line goes on to the edge. All of them where there
  /// are no more. Readings are those of the series itself.
  Series within(double from, double to, size_t columns) const;

  /// The lowest and the highest value between two moments, both included; the first above the second where there is
  /// none.
  std::pair<double, double> rangeWithin(double from, double to) const;

 private:
  /// The lowest and the highest of a block, with their places: values stand here too, so that a part is read in a row.
  struct Ends {
    double low, high;
    uint32_t lowAt, highAt;
    void take(const Ends& other) {
      if (other.low < low) low = other.low, lowAt = other.lowAt;
      if (other.high > high) high = other.high, highAt = other.highAt;
    }
  };
  Ends endsOf(size_t from, size_t to) const;
  Ends endsAt(size_t index) const;
  size_t indexOf(double t, size_t from = 0) const;

  Series m_series;
  std::vector<std::vector<Ends>> m_levels;
};

}  // namespace ash
