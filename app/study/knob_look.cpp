// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/knob_look.h"

#include <algorithm>

#include "ladder/ladder_knob.h"

namespace ash {

Result<KnobList> lookForKnobs(const BookView& view, const Study& study, const std::string& setup,
                              const std::string& root) {
  const int index = setupIndexIn(study, setup);
  if (index < 0) return Error::badInput("There is no such setup any more.");
  // A bench that is a file of somebody else's book is not read before it is allowed.
  const auto open = view.unconfirmed.find(study.name);
  const bool isOpen = open != view.unconfirmed.end() &&
                      std::any_of(open->second.begin(), open->second.end(),
                                  [](const ActivePart& part) { return part.kind == ActiveKind::Bench; });
  if (isOpen)
    return Error::badInput("The study's simulated bench is a file that nobody has allowed on this machine yet.");
  return knobsOfSetup(study.setups[static_cast<size_t>(index)], planFromJson(study.plan).bench, root);
}

}  // namespace ash
