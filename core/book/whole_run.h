// SPDX-License-Identifier: GPL-3.0-or-later
// A run with everything that the book knows of it, row by row, to be carried into another book and be the same there.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/result.h"

namespace ash {

/// One source as it was recorded.
struct WholeSource {
  std::string id;
  Json readings = Json::array();  ///< in the order of the columns: {"name", "role" or null, "unit", "about"}
  std::vector<double> timeS;
  std::vector<std::vector<double>> columns;  ///< one a reading, as long as timeS; NaN = missing
};

/// A picture or another file of the run, or of its setup.
struct WholeFile {
  bool isOfSetup = false;
  Json about = Json::object();               ///< {"at_s" or null, "name", "type", "text", "hash", "added", "extra"}
  std::shared_ptr<const std::string> bytes;  ///< never null; runs of one setup share them
};

struct WholeRun {
  /// Columns of the run's row by their names, "study", "setup" and "load" as objects of theirs.
  Json row = Json::object();
  Json phases = Json::array();  ///< {"kind", "start_s", "end_s" or null}
  Json events =
      Json::array();  ///< {"at_s", "kind", "text", "role", "value", "value_high", "extra"}; what is none is null
  std::vector<WholeSource> sources;
  std::vector<WholeFile> files;
};

/// Refused: no such run, one that goes on, one whose samples are damaged.
Result<WholeRun> readWholeRun(const std::string& bookPath, const std::string& run);

/// Keeps them under their own ids, in one transaction. A study, setup or load that is there is used when it says the
/// same, else the run's own gets a name of its own. Refused: a run that the book has already, a row that cannot be one.
Status writeWholeRuns(const std::string& bookPath, const std::vector<WholeRun>& runs);

}  // namespace ash
