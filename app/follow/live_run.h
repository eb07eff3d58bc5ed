// SPDX-License-Identifier: GPL-3.0-or-later
// A run as the window sees it: what it is, how far it has come, its samples by role. Values handed from the follower's
// thread to the interface.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "analysis/figures.h"
#include "model/outcome.h"
#include "model/procedure.h"
#include "model/reading.h"
#include "model/run_facts.h"

namespace ash {

/// What a run is; does not change while it goes on.
struct LiveRunInfo {
  std::string id, book, study, setup, load, started, watched, machine;
  int repeat = 1;
  int setupIndex = 0;  ///< its place among the study's setups: its colour
  double speed = 1;
  double intervalS = 0.5;
  Procedure procedure;
  std::map<std::string, Reading> readings;  ///< by column name
};

struct LiveForecast {
  bool isSettled = false;
  double value = kMissing, low = kMissing, high = kMissing, remainingK = kMissing, settlesAtS = kMissing;
};

struct LiveRule {
  std::string text, role;
  double threshold = 0, value = kMissing, distance = kMissing;
  bool hasTripped = false;
};

struct LiveState {
  double timeS = 0;
  size_t phase = 0;
  double phaseS = 0;
  double longestLeftS = 0;
  bool isLoadOn = false;
  LiveForecast forecast;
  std::vector<LiveRule> rules;
};

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
