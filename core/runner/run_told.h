// SPDX-License-Identifier: GPL-3.0-or-later
// What a recording tells of itself, as values: what comes out of the messages of run_messages.h at the other end.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "analysis/run/figures.h"
#include "model/outcome.h"
#include "model/procedure.h"
#include "model/reading.h"

namespace ash {

/// What a run is; does not change while it goes on.
struct LiveRunInfo {
  std::string id, book, study, setup, load, started, watched, machine;
  int repeat = 1;
  int setupIndex = 0;  ///< its place among the study's setups: its colour; not told, found by who follows
  double speed = 1;
  double intervalS = 0.5;
  double roomC = kMissing;  ///< as it was stated for this run
  Procedure procedure;
  std::map<std::string, Reading> readings;        ///< by column name
  std::vector<std::vector<std::string>> columns;  ///< names of the columns of each source, in the order of its values
};

struct LiveForecast {
  bool isSettled = false;
  double value = kMissing, low = kMissing, high = kMissing, remainingK = kMissing, settlesAtS = kMissing;
  bool isGoverned = false;  ///< held at its limit: what it delivers settles
  std::string willHold;     ///< "3.41 GHz at 52.3 W"; empty = cannot be told
  double remainingPercent = kMissing;
};

struct LiveRule {
  std::string text, role;
  double threshold = 0, value = kMissing, distance = kMissing;
  bool hasTripped = false;
  double heldS = 0;
  bool isDefault = false;
};

struct LiveState {
  double timeS = 0;
  size_t phase = 0;
  double phaseS = 0;
  double longestLeftS = 0;
  Estimate drainedInS;  ///< until the battery holds what ends the phase
  bool isLoadOn = false;
  LiveForecast forecast;
  std::vector<LiveRule> rules;
};

/// One sweep of one source.
struct LiveSamples {
  size_t source = 0;
  double timeS = 0;
  std::vector<double> values;  ///< NaN = missing
};

/// A phase that has begun.
struct LivePhase {
  size_t index = 0;
  PhaseKind kind = PhaseKind::Idle;
  double startS = 0;
  std::string words, lastEnd;  ///< what it is; how the one before ended
};

/// The run is over.
struct LiveOutcome {
  std::string run;
  Outcome outcome = Outcome::RecorderDied;
  std::string reason;
};

/// What became of a wish.
struct LiveAnswer {
  bool isDone = false;
  std::string why, kept;  ///< why not; how an entry was kept
};

}  // namespace ash
