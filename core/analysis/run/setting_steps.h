// SPDX-License-Identifier: GPL-3.0-or-later
// A setting that was changed in the middle of a load, by the run, the kernel, a hand or a typed line, parts its
// figures: what was before and what was after, side by side.
#pragma once

#include <string>
#include <vector>

#include "analysis/run/figures.h"
#include "model/run_facts.h"

namespace ash {

/// One reading on both sides. The interval of the difference is that of 95 % by both means' own uncertainties, which
/// know of autocorrelation and the sensor's step (JCGM 100:2008, 5.1.2).
struct SteppedReading {
  std::string role, unit;
  double before = kMissing, after = kMissing;
  double difference = kMissing, low = kMissing, high = kMissing;
};

struct SettingStep {
  double atS = 0;
  std::string text;        ///< what was changed; several changes within two seconds are one
  TimeSpan before, after;  ///< what the means come from: the later half of each part
  std::vector<SteppedReading> readings;
};

/// In order of time. Parts reach from load start, or the change before, to the next one, or load end; one that is too
/// short for ten readings a side has no figures and is left out.
std::vector<SettingStep> settingSteps(const RunLog& run, const Figures& figures);

}  // namespace ash
