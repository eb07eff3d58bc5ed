// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/setup_edit.h"

#include "model/load_way.h"

namespace ash {

void renameSetup(Study& study, StudyPlan& plan, size_t setup, const std::string& name) {
  if (setup >= study.setups.size()) return;
  const std::string before = study.setups[setup].name;
  if (plan.reference == before) plan.reference = name;
  for (StatedFigure& one : plan.stated) {
    if (one.setup == before) one.setup = name;
  }
  for (Load& load : study.loads) renameWay(load, before, name);
  study.setups[setup].name = name;
}

void removeSetup(Study& study, size_t setup) {
  if (setup >= study.setups.size()) return;
  for (Load& load : study.loads) setWay(load, study.setups[setup].name, Json::object());
  study.setups.erase(study.setups.begin() + static_cast<std::ptrdiff_t>(setup));
}

}  // namespace ash
