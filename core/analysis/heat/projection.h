// SPDX-License-Identifier: GPL-3.0-or-later
// A run carried over to another room or another power: how warm it would get, and whether it would throttle.
#pragma once

#include "analysis/run/figures.h"

namespace ash {

struct ProjectionQuestion {
  std::optional<double> roomC;   ///< none = as in the run
  std::optional<double> powerW;  ///< none = what the device wants under this load
};

struct Projection {
  Device device;
  double roomC = kMissing, powerW = kMissing;
  Estimate temperatureC;                 ///< settled, if no limit held it back; 95 %
  std::optional<double> limitC;          ///< throttle limit
  std::optional<double> throttleChance;  ///< 0 … 1, none without a known limit
  std::optional<double> fanRpm;          ///< the speed it holds for
};

/// For every device whose resistance is known. The settled value is the forecast where the run had not settled; the
/// uncertainty grows with the way from the run's own power (docs/method.md, "Projection").
std::vector<Projection> projectRun(const RunLog& run, const Figures& figures, const ProjectionQuestion& question);

}  // namespace ash
