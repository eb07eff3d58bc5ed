// SPDX-License-Identifier: GPL-3.0-or-later
// How long a battery that is being run down will last: by the same rule as the analysis tells it afterwards.
#pragma once

#include <cstddef>
#include <optional>
#include <string>

#include "analysis/energy/energy.h"
#include "analysis/series/series.h"
#include "model/procedure.h"

namespace ash {

class DrainWatch {
 public:
  /// A reading of the charge (percent) in the phase of this number; another phase begins anew. Missing is passed over.
  void take(size_t phase, double timeS, double percent);
  /// From the last reading on until the charge at which `phase` ends, in seconds. Missing where it ends otherwise,
  /// where too little was used to tell, and where the interval is as long as what it tells.
  Estimate leftS(const Phase& phase) const;

 private:
  size_t m_phase = 0;
  double m_everyS = 0;  // what is kept lies at least so far apart: never more than a thousand readings
  double m_lastS = kMissing;
  Series m_charge;
  std::optional<Drain> m_drain;
};

/// "the battery is empty in about 1:12:00 (1:05:00 to 1:21:00)", or at 20 %; empty where it cannot be told.
std::string drainedInWords(const Estimate& leftS, const Phase& phase);

}  // namespace ash
