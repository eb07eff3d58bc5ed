// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"
#include "analysis/warm_up/warm_up.h"

namespace ash {

Line lineThrough(const SeriesView& part) {
  Line line;
  line.middle = meanOf(part.v);
  line.middleS = meanOf(part.t);
  line.lengthS = part.t.back() - part.t.front();
  double tt = 0, tv = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    tt += (part.t[i] - line.middleS) * (part.t[i] - line.middleS);
    tv += (part.t[i] - line.middleS) * (part.v[i] - line.middle);
  }
  if (!(tt > 0)) return line;
  line.change = tv / tt * line.lengthS;
  std::vector<double> left(part.size());
  for (size_t i = 0; i < part.size(); ++i) {
    left[i] = part.v[i] - line.at(part.t[i]);
    line.rss += left[i] * left[i];
  }
  const double degrees = std::max(1.0, static_cast<double>(part.size()) - 2);
  line.changeSe = std::sqrt(line.rss / degrees * autocorrelationTime(left) / tt) * line.lengthS;
  return line;
}

double Line::sureChange(size_t readings) const {
  return std::abs(change) - studentT95(static_cast<double>(readings) - 2) * changeSe;
}

}  // namespace ash
