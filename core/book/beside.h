// SPDX-License-Identifier: GPL-3.0-or-later
// Logs of other clocks that were taken in beside a run: sources of their own, which can be taken off again.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/result.h"
#include "model/run_facts.h"
#include "model/samples.h"
#include "model/study.h"

namespace ash {

/// A log with its times put on the run's clock.
struct BesideLog {
  SourceInfo source;                         ///< its id is the name it is to have; a number is added where it is taken
  std::vector<double> timeS;                 ///< of the run, rising
  std::vector<std::vector<double>> columns;  ///< one a reading, as long as timeS; NaN = missing
  std::vector<Event> events;
  Json how = Json::object();  ///< kept with it: offset, drift, by which readings
};

/// Keeps it in one transaction; the name it has got. Refused: no such run, one that goes on.
Result<std::string> putBeside(const std::string& bookPath, const std::string& run, BesideLog log);

/// Takes it off again, with its events. Refused: nothing of that name was put beside the run.
Status takeOffBeside(const std::string& bookPath, const std::string& run, const std::string& name);

/// The names of what was put beside a run, out of its row's `extra`, each with what was kept of how.
std::vector<std::pair<std::string, Json>> besideOf(const Json& extra);

}  // namespace ash
