// SPDX-License-Identifier: GPL-3.0-or-later
// Speaking with a run from the command line: list those going on, ask one for something and wait for its answer.
#pragma once

#include <string>
#include <vector>

#include "model/json.h"
#include "model/result.h"

namespace ash {

/// The "run" message of every recording of this user that goes on now. Sockets of dead recorders are removed.
Result<std::vector<Json>> listRuns();

/// Sends a wish ({"do": "stop"}) to a run and returns its answer. An error when there is no such run or it does not
/// answer within three seconds.
Result<Json> askRun(const std::string& runId, const Json& wish);

}  // namespace ash
