// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of a run beside its samples: the sidecar of docs/analysis-contract.md as types.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "model/event_kind.h"
#include "model/json.h"
#include "model/load_kind.h"
#include "model/outcome.h"
#include "model/procedure.h"
#include "model/samples.h"

namespace ash {

/// A moment of a run: a note, a typed reading, a changed setting, a fault. Attachments (pictures, sounds) and clock
/// offsets of merged logs stand in `extra`.
struct Event {
  double atS = kMissing;
  EventKind kind = EventKind::Note;
  std::string text;
  Role role;                    ///< for a reading: what it means
  double value = kMissing;      ///< for a reading: its value, stored unit
  double valueHigh = kMissing;  ///< for a range ("38 to 44"): its upper end
  Json extra = Json::object();
};

/// A phase as it really went.
struct PhaseSpan {
  PhaseKind kind = PhaseKind::Idle;
  double startS = 0;
  double endS = 0;
  bool isGiven = true;  ///< false: detected from the samples
};

/// One pass of a load that works in passes.
struct Pass {
  double startS = 0;
  double endS = 0;
  double score = kMissing;
  std::map<std::string, double> scores;
};

/// Limits of one role, in its stored unit: "throttle", "critical", "sustained", "short".
using Limits = std::map<std::string, double>;

/// What an instrument may be off by, as its maker states it: ± a fixed part (in the role's unit) and a share of the
/// reading.
struct Accuracy {
  double plusMinus = 0;
  double percent = 0;
  std::string instrument;  ///< which one it is; empty = not named
};

/// Everything about a run that is no sample. `conditions`, `machine` and `extra` stay JSON: they are the user's own
/// fields.
struct RunFacts {
  std::string setup;
  std::string load;
  LoadKind loadKind = LoadKind::Other;  ///< of the load, where it is known apart from its name
  Json loadSpec = Json::object();       ///< what the load did in this run; empty = not known
  std::string started;                  ///< ISO 8601
  std::optional<Outcome> outcome;       ///< none = not told
  std::string reason;
  std::string watched;
  Json machine = Json::object();
  Json bench =
      Json::object();     ///< what it ran on, as the book keeps it: "kind" simulated with its name, or this machine
  std::string procedure;  ///< its phases as text; empty = not known
  std::vector<std::string> underTest;
  std::map<std::string, Limits> limits;
  std::map<std::string, std::map<std::string, double>> rated;
  std::map<std::string, Accuracy> accuracies;  ///< by role
  std::map<std::string, std::string> places;   ///< where a role's instrument stands: "50 cm"
  std::vector<PhaseSpan> phases;
  Json conditions = Json::object();
  struct Work {
    double units = kMissing;
    std::string unit;
    double doneS = kMissing;
  };
  std::optional<Work> work;
  std::vector<Pass> passes;
  bool lowerScoreIsBetter = false;
  std::vector<Event> events;
  Json extra = Json::object();  ///< unknown keys, kept and written back

  std::optional<double> limit(const std::string& role, const std::string& which) const;
  std::optional<double> conditionNumber(const std::string& field) const;
};

/// A run ready for analysis.
struct RunLog {
  std::string name;  ///< file name without .csv, or the run's id
  Log log;
  RunFacts facts;
};

}  // namespace ash
