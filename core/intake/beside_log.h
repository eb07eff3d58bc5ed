// SPDX-License-Identifier: GPL-3.0-or-later
// A second log beside a run: a meter's own, a camera's, another computer's, its clock found by what both saw.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "analysis/alignment/clock_offset.h"
#include "intake/log_look.h"

namespace ash {

struct BesideWishes {
  std::string book, run;
  std::optional<double> offsetS;                       ///< seconds added to the log's time; empty = found
  std::map<std::string, std::string> accuracy, place;  ///< by column or role: "1 % + 0.5 W", "before the UPS"
};

struct TakenBeside {
  LogFacts facts;
  std::string source;  ///< the name it is kept under; empty = it was not taken, `refusal` says why
  ClockOffset offset;
  std::vector<std::string> by;  ///< the log's reading and the run's; none where the offset was typed
  std::string refusal;          ///< one sentence: the offset cannot be told
};

/// How a log would stand beside a run.
struct BesideLook {
  TakenBeside told;    ///< its source is empty: nothing is kept
  LaneShape run, log;  ///< a reading of either that move together, each in its own time
};

/// Looks only. Errors as takeBeside().
Result<BesideLook> lookBeside(const std::string& path, const ImportWishes& wishes, const BesideWishes& beside,
                              const ImportProgress& progress = {});

/// Puts a log beside a run. Its time is what it says: seconds as they stand, else since its first row. The run must
/// have ended and the whole log fit into memory (20 million values). The error says what is wrong with log, run or
/// wishes.
Result<TakenBeside> takeBeside(const std::string& path, const ImportWishes& wishes, const BesideWishes& beside,
                               const ImportProgress& progress = {});

/// As `ashg import --into --json` prints it, beside the facts.
Json besideToJson(const TakenBeside& taken);

}  // namespace ash
