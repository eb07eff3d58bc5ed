// SPDX-License-Identifier: GPL-3.0-or-later
// How near a machine is to getting too hot: no fan is turned down there, and those that were are let go.
#pragma once

#include <limits>
#include <string>
#include <vector>

#include "model/study.h"

namespace ash {

/// Nearer to a critical limit than this no fan is turned down.
inline constexpr double kNearLimitK = 5;

/// The temperature that is nearest to its critical limit.
struct NearLimit {
  double leftK = std::numeric_limits<double>::infinity();
  std::string words;  ///< which one

  bool isNear() const { return leftK < kNearLimitK; }
  /// "Processor temperature is 4.0 K below its critical limit".
  std::string sentence() const;
};

/// Looks through one sweep of a source, one value a reading.
void lookForLimit(const std::vector<Reading>& readings, const std::vector<double>& values, NearLimit& nearest);

/// Looks at a machine now, which takes a moment.
NearLimit nearestToLimit(const std::string& root);

}  // namespace ash
