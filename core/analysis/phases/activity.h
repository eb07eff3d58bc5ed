// SPDX-License-Identifier: GPL-3.0-or-later
// When a machine worked: power, load, work rate and clock looked at together.
#pragma once

#include <vector>

#include "analysis/series/series.h"

namespace ash {

/// What a log's own readings tell of work and rest.
struct Activity {
  enum class Kind { Unknown, AlwaysRest, AlwaysBusy, Changing };
  Kind kind = Kind::Unknown;
  /// Where it worked, to the sample: every one, however short. Ends are the first sample at rest again.
  std::vector<TimeSpan> busy;
};

/// Each reading that tells work from rest votes, sample by sample; loads and powers of one device count together, the
/// work done and the power at the wall beside them. A log that is all one state is told by how high its load is, or by
/// whether it warms up.
Activity activityOf(const RunLog& run);

}  // namespace ash
