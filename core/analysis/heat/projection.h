// SPDX-License-Identifier: GPL-3.0-or-later
// A run carried over to another room, power or fan speed: how warm it would get, whether it would throttle, and what
// clock it would hold then.
#pragma once

#include "analysis/run/figures.h"

namespace ash {

struct ProjectionQuestion {
  std::optional<double> roomC;   ///< none = as in the run
  std::optional<double> powerW;  ///< none = what the device wants under this load
  std::optional<double> fanRpm;  ///< none = as in the run; else at least a quarter and at most four times its speed
  bool isAsked() const { return roomC || powerW || fanRpm; }
};

struct Projection {
  Device device;
  double roomC = kMissing, powerW = kMissing;
  Estimate temperatureC;                 ///< settled, if heat held nothing back; 95 %
  std::optional<double> limitC;          ///< throttle limit
  std::optional<double> throttleChance;  ///< 0 … 1, none without a known limit
  std::optional<Estimate> heldPowerW;    ///< what it can carry off at that limit; only where it may throttle
  std::optional<Estimate> heldMhz;       ///< the clock it holds then; only where a clock was logged
  std::optional<double> fanRpm;          ///< the speed it holds for
};

/// Whether a projection to that fan speed is not too far from a run's own.
bool isFanSpeedNear(double ownRpm, double rpm);

/// For every device whose resistance is known. The settled value is the forecast where the run had not settled.
/// Everything uncertain is drawn at once, 4000 times, always the same (JCGM 101:2008, propagation by a Monte Carlo
/// method); the intervals are the middle 95 % (docs/method.md, "Projection"). A device without a fan, or whose fan is
/// too far from the speed asked for, is left out when a fan speed is asked for.
std::vector<Projection> projectRun(const RunLog& run, const Figures& figures, const ProjectionQuestion& question);

}  // namespace ash
