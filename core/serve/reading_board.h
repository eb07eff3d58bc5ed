// SPDX-License-Identifier: GPL-3.0-or-later
// The latest readings of a machine, filled by who sweeps it and read by whoever serves them.
#pragma once

#include <mutex>
#include <vector>

#include "machine/tick.h"
#include "serve/metrics_page.h"

namespace ash {

/// May be used by several threads. A reading that was not swept for three seconds, or two of its source's paces, is
/// missing: never stale.
class ReadingBoard {
 public:
  /// Of sources in this order; hidden readings are not shown.
  explicit ReadingBoard(const std::vector<SourceInfo>& sources);
  void take(const Tick& tick);
  /// As of now, by the bench's clock and the wall's.
  std::vector<ServedReading> now(double benchS, double wallS) const;

 private:
  struct Shown {
    SourceInfo source;
    double sweptS = kMissing;
    std::vector<double> values;
  };
  mutable std::mutex m_mutex;
  std::vector<Shown> m_shown;  // by source
};

}  // namespace ash
