// SPDX-License-Identifier: GPL-3.0-or-later
// A study (a question), its setups, loads and runs, as the book keeps them.
#pragma once

#include <string>
#include <vector>

#include "model/json.h"
#include "model/outcome.h"
#include "model/procedure.h"
#include "model/reading.h"

namespace ash {

/// The "kind" of a bench that is none of metal, and whether a run was recorded on such a one (RunInfo::bench).
inline constexpr char kSimulatedBench[] = "simulated";
inline bool isSimulated(const Json& bench) { return valueIn(bench, "kind", "") == kSimulatedBench; }

/// What is put under test: parts, settings and conditions. Their fields are the user's own.
struct Setup {
  std::string name;
  Json parts = Json::object();       ///< "cooler": "Teasel", …
  Json conditions = Json::object();  ///< "fan_duty": 60, "price": 49.9, …; asked and delivered values of a setting
  Json levels = Json::object();      ///< its level of each factor of the study: "cooler": "Teasel", "paste": "A"
  long long id = 0;                  ///< its row in the book; 0 = not kept yet
};

/// What loads it. `spec` holds kind, threads, duty, command, … of the load.
struct Load {
  std::string name;
  Json spec = Json::object();
  long long id = 0;
};

/// A question with its setups and loads. Factors and their reference levels, expectations written before the result and
/// claims by others (never trusted as a reference) are kept in `plan`.
struct Study {
  std::string name;
  std::string question;
  Json plan = Json::object();
  std::vector<Setup> setups;
  std::vector<Load> loads;
  long long id = 0;
};

/// What its prices are in, as the first setup that has one states it; empty where none does.
std::string currencyOf(const Study& study);

/// A source as a run recorded it: where its readings came from and in which order its columns stand.
struct SourceInfo {
  std::string id;
  std::vector<Reading> readings;
  double paceS = 0;  ///< the least time between two sweeps; 0 = as often as wanted. Not kept
};

/// What a run is, before and apart from its samples.
struct RunInfo {
  std::string id;
  std::string study;
  std::string setup;
  std::string load;
  int repeat = 1;
  Outcome outcome = Outcome::Running;
  std::string reason;   ///< one sentence, empty when there is none
  std::string started;  ///< ISO 8601 with offset
  Procedure procedure;
  Json machine = Json::object();     ///< name, boot_id, kernel, …
  Json bench = Json::object();       ///< what it ran on: kernel root, or simulated bench with seed and speed
  Json conditions = Json::object();  ///< as they were for this run
  Json loadSpec = Json::object();    ///< what the load did in this run; empty = not kept
  double intervalS = 0.5;
  std::string watched;
  int recorderPid = 0;
  std::string unwatchedReason;  ///< why the default stop rules were off; empty = they were on
};

/// One line of a book's list of runs.
struct RunSummary {
  RunInfo info;
  long long sampleCount = 0;
  double lastSampleS = kMissing;
  std::string samplesKey;  ///< another one once other samples stand in the book: what was worked out is old
};

}  // namespace ash
