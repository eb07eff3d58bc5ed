// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series/thinning.h"

#include <algorithm>
#include <cmath>

namespace ash {

Series lowestAndHighest(const Series& series, size_t columns) {
  if (series.size() <= 2 * columns || columns == 0) return series;
  const double first = series.t.front();
  const double width = (series.t.back() - first) / static_cast<double>(columns);
  Series kept;
  size_t i = 0;
  while (i < series.size()) {
    const double column = std::floor((series.t[i] - first) / width);
    size_t low = i, high = i;
    for (; i < series.size() && std::floor((series.t[i] - first) / width) == column; ++i) {
      if (series.v[i] < series.v[low]) low = i;
      if (series.v[i] > series.v[high]) high = i;
    }
    for (const size_t k : {std::min(low, high), std::max(low, high)}) {
      if (!kept.t.empty() && kept.t.back() == series.t[k]) continue;
      kept.t.push_back(series.t[k]);
      kept.v.push_back(series.v[k]);
    }
  }
  return kept;
}

}  // namespace ash
