// SPDX-License-Identifier: GPL-3.0-or-later
// Logs made by a physics of their own (stages of heat solved exactly, apart from core/sim), of which everything that
// the analysis has to find is known: load, settled value, time constants, what was put in on purpose.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "model/run_facts.h"

namespace ash::tests {

struct Truth {
  bool hasLoad = true;
  double loadStartS = 0;
  double loadEndS = 0;
  bool isGoverned = false;                 ///< pinned or swinging at its limit when the load ended
  double finalC = kMissing;                ///< where it would end at the power and room of the load's end
  double remainingK = kMissing;            ///< finalC minus what it has reached when the load ends
  double trendK = kMissing;                ///< change over the last fifth of the load
  double settledAtS = kMissing;            ///< since when less than half a kelvin was left
  double heldW = kMissing;                 ///< of one held evenly: the power it will hold at the limit
  double heldRemainingPercent = kMissing;  ///< what it drew at the load's end, over that
  std::vector<double> tausS;               ///< of its stages, rising
  double kelvinPerWatt = kMissing;         ///< settled: of all stages together
  std::set<std::string> planted;           ///< kinds of problems put in on purpose
};

struct TruthLog {
  RunLog run;
  Truth truth;
};

/// The kinds of logs there are, in words.
const std::vector<std::string>& truthScenarios();

/// One log of a kind; the same seed gives the same log.
TruthLog makeTruthLog(const std::string& scenario, unsigned seed);

}  // namespace ash::tests
