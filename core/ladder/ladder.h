// SPDX-License-Identifier: GPL-3.0-or-later
// A ladder: one knob turned step by step until it no longer holds, each step a run of its own setup
// (docs/ladders.md).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "book/book.h"
#include "ladder/ladder_rule.h"
#include "model/procedure.h"

namespace ash {

enum class LadderSearch {
  Steps,    ///< one after the other, from the first
  Halving,  ///< between one that holds and one that does not
};

/// "steps", "halving".
const char* ladderSearchText(LadderSearch search);

/// What is asked; equal ones are the same ladder.
struct LadderAsk {
  std::string study, setup, load;
  std::string knob;  ///< its id, or one of the person's own: "firmware voltage, V"
  std::string unit;
  double from = kMissing, to = kMissing;
  double step = kMissing;  ///< above 0, whichever way it goes
  LadderSearch search = LadderSearch::Steps;
  std::vector<LadderRule> until;  ///< any of them ends a step as not held
  Phase rest;                     ///< what each step begins with: without load
  Phase hold;                     ///< how long a step is held
  int back = 1;                   ///< steps back from the first that does not hold
  double confirmS = kMissing;     ///< missing = no confirming run
  std::string confirmLoad;        ///< empty = the same load
  Json bench = Json::object();    ///< "sim" and "seed", or "root"; empty = this machine

  size_t stepCount() const;
  /// Of a step, from 0; stepCount() of them at most.
  double valueAt(size_t index) const;
  bool isConfirmed() const { return std::isfinite(confirmS); }
};

inline constexpr size_t kMostLadderSteps = 1000;
inline constexpr int kMostStepsFurtherBack = 4;  ///< when the confirming run fails

/// One sentence when it cannot be climbed: no steps, no rule, numbers that are none.
Status checkAsk(const LadderAsk& ask);
Json askToJson(const LadderAsk& ask);
Result<LadderAsk> askFromJson(const Json& json);
/// Which arguments of two are different, by their options; empty when they ask for the same.
std::vector<std::string> differencesOf(const LadderAsk& a, const LadderAsk& b);

/// A run that is or was a step of it, or a confirming one.
struct LadderStep {
  size_t index = 0;
  bool isConfirming = false;
  std::string setup, runId;
  std::optional<double> readBack;    ///< what the knob had; none for a hand's
  std::optional<bool> held;          ///< none while it goes on, or when it has to be done again
  std::string why;                   ///< it did not hold
  std::optional<double> leftK = {};  ///< of one that held: how far below its limit the nearest temperature was
  std::string leftOf = {};           ///< which one
};

struct Ladder {
  std::string id, created;
  LadderAsk ask;
  std::vector<LadderStep> steps;  ///< in the order in which they were run
  bool isOver = false;
};

KeptLadder toKept(const Ladder& ladder);
/// What a book holds may be anything: the error says what is wrong with it.
Result<Ladder> fromKept(const KeptLadder& kept);

/// As `ashg ladder --json` prints it.
Json ladderToJson(const Ladder& ladder);

}  // namespace ash
