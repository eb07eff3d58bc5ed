// SPDX-License-Identifier: GPL-3.0-or-later
// A run as the window sees it: what it is, how far it has come, its samples by role. Values handed from the follower's
// thread to the interface.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "analysis/run/figures.h"
#include "model/run_facts.h"
#include "runner/run_told.h"

namespace ash {

/// News of a run since the last batch. Never changed after it has been sent.
struct LiveBatch {
  std::shared_ptr<const LiveRunInfo> begun;  ///< a run is followed from here on; everything before is forgotten
  std::map<std::string, Series> samples;     ///< by column name
  std::optional<LiveState> state;
  std::vector<PhaseSpan> phases;       ///< all up to now, when they changed; empty = unchanged
  std::vector<Event> events;           ///< new ones
  std::vector<Throttling> throttling;  ///< all up to now
  bool hasThrottling = false;
  std::optional<Outcome> outcome;  ///< it is over
  std::string reason;
};

}  // namespace ash
