// SPDX-License-Identifier: GPL-3.0-or-later
#include "serve/reading_board.h"

#include <algorithm>

namespace ash {

ReadingBoard::ReadingBoard(const std::vector<SourceInfo>& sources) {
  for (const SourceInfo& source : sources)
    m_shown.push_back({source, kMissing, std::vector<double>(source.readings.size(), kMissing)});
}

void ReadingBoard::take(const Tick& tick) {
  const std::lock_guard lock(m_mutex);
  for (const auto& [source, sweep] : tick.sweeps) {
    Shown& shown = m_shown[static_cast<size_t>(source)];
    shown.sweptS = sweep.timeS;
    std::copy_n(sweep.values.begin(), std::min(sweep.values.size(), shown.values.size()), shown.values.begin());
  }
}

std::vector<ServedReading> ReadingBoard::now(double benchS, double wallS) const {
  constexpr double kStaleS = 3;
  const std::lock_guard lock(m_mutex);
  std::vector<ServedReading> all;
  for (const Shown& shown : m_shown) {
    const double ageS = benchS - shown.sweptS;
    if (!(ageS <= std::max(kStaleS, 2 * shown.source.paceS))) continue;
    for (size_t i = 0; i < shown.values.size(); ++i) {
      if (shown.source.readings[i].isHidden) continue;
      all.push_back({shown.source.readings[i], shown.values[i], wallS - ageS});
    }
  }
  return all;
}

}  // namespace ash
