// SPDX-License-Identifier: GPL-3.0-or-later
// Two readings on one grid of time, and how alike their changes are at each distance. Pure.
#pragma once

#include <complex>
#include <vector>

#include "analysis/series/series.h"

namespace ash {

/// Values of equal time steps; NaN = none. Cell i stands for fromS + i · stepS.
struct ShapeGrid {
  double fromS = 0, stepS = 0;
  std::vector<double> values;
};

/// The mean of what falls into each cell; single empty cells between two full ones are filled by a straight line.
ShapeGrid gridOf(const SeriesView& series, double stepS);

/// How much the mean of `scale` cells differs from that of the `scale` cells before, at each cell; NaN where one lacks.
std::vector<double> changesOf(const std::vector<double>& values, size_t scale);

/// Likeness of two rows of changes at one distance.
struct Likeness {
  double correlation = 0;  ///< of the cells that both have
  double worth = 0;        ///< the same, less where most of the changes of both lie outside of what both have
  double cells = 0;        ///< how many both have
};

/// Compares two rows at every distance. Numbers that are missing take no part.
class LikenessAtEveryDistance {
 public:
  LikenessAtEveryDistance(const std::vector<double>& run, const std::vector<double>& log);
  /// Cell i of the log stands beside cell i + distance of the run.
  long long lowest() const { return 1 - static_cast<long long>(m_logCells); }
  long long highest() const { return static_cast<long long>(m_runCells) - 1; }
  const Likeness& at(long long distance) const { return m_all[static_cast<size_t>(distance - lowest())]; }
  /// The distance of most worth, of those further than `apart` from `from`; at least `cells` in common.
  long long best(double cells, long long from = 0, long long apart = -1) const;

 private:
  size_t m_runCells, m_logCells;
  std::vector<Likeness> m_all;
};

}  // namespace ash
