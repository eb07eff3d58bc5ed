// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/machine_snapshot.h"

#include <algorithm>
#include <cmath>

namespace ash {

void SeenReadings::take(const Sweep& sweep) {
  const size_t count = std::min(m_seen.size(), sweep.values.size());
  for (size_t i = 0; i < count; ++i) {
    Seen& seen = m_seen[i];
    const double value = sweep.values[i];
    if (std::isfinite(value)) {
      seen.low = std::fmin(seen.low, value);
      seen.high = std::fmax(seen.high, value);
      if (value != seen.value) seen.changedS = sweep.timeS;
      seen.answeredS = sweep.timeS;
    }
    seen.value = value;
  }
}

ReadingNow SeenReadings::at(size_t reading, double nowS) const {
  const Seen& seen = m_seen[reading];
  ReadingNow now;
  now.value = seen.value;
  now.low = seen.low;
  now.high = seen.high;
  now.ageS = nowS - seen.answeredS;  // missing when it has never answered
  if (std::isfinite(seen.changedS)) now.stillS = nowS - seen.changedS;
  return now;
}

}  // namespace ash
