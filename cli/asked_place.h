// SPDX-License-Identifier: GPL-3.0-or-later
// Where a run is to be recorded, and with which load: a study's own, a kind, or one that is typed as a line.
#pragma once

#include <string>

#include "load/load_options.h"
#include "runner/planned_run.h"

namespace ash {

struct AskedPlace {
  PlannedPlace place;
  std::string loadName;
  LoadOptions load;
  Json loadRow = Json::object();  ///< what was typed, with the places of its fields (RunPlan)
  bool isTyped = false;           ///< the load was typed as a line
};

/// `load`: a load of the study by its name, else a kind, a line ("vector + graphics"), or a name with a line
/// ("Mixdown = graphics work=900000": carried out so in this run). Who types a command has confirmed it, also when the
/// book knows it from the run before. With `asPlanned` it is a name that comes out of a book, and never a typed line.
Result<AskedPlace> askedPlace(const std::string& book, const std::string& study, const std::string& setup,
                              const std::string& load, bool asPlanned);

}  // namespace ash
