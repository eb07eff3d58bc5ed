// SPDX-License-Identifier: GPL-3.0-or-later
// What each setup would do in another room, or with another power: its runs projected one by one and taken together.
#pragma once

#include <string>
#include <vector>

#include "analysis/heat/projection.h"
#include "report/study/study_report.h"

namespace ash {

struct ProjectedSetup {
  std::string setup;
  int setupIndex = 0;
  int runs = 0;                          ///< that could be projected
  double powerW = kMissing;              ///< that the device takes there, if heat holds nothing back
  Estimate temperatureC;                 ///< settled, if heat held nothing back; 95 %
  std::optional<double> limitC;          ///< where it throttles
  std::optional<double> throttleChance;  ///< 0 … 1; none where no limit is known
  std::optional<Estimate> heldPowerW;    ///< what it would hold at its limit; only where it may throttle
  std::optional<Estimate> heldMhz;
};

/// Those that could be projected, and how many could not.
struct ProjectedField {
  std::vector<ProjectedSetup> setups;
  size_t leftOut = 0;
};

/// The setups of a load that have a run which can be projected, the coolest first; of each the device that its load
/// works. Of a field that is compared at an equal level each setting is one of its own, as it was run. The middle is
/// the mean of its runs; the half width joins in quadrature what the projection does not know, as the mean of the runs'
/// own, and the scatter of the runs, by Student's t (docs/method.md, "Projection").
ProjectedField projectedSetups(const StudyReport& report, const LoadStanding& load, const ProjectionQuestion& question);

/// Several projections of one thing as one; empty of none.
Estimate projectedTogether(const std::vector<Estimate>& runs);

}  // namespace ash
