// SPDX-License-Identifier: GPL-3.0-or-later
// Keeps a flood of like events (a rule that warns at every sample, wrong results without end) out of book, socket and
// memory.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "model/run_facts.h"

namespace ash {

/// Events that a machine makes are alike when kind, rule and sentence are the same but for numbers. Of such the first
/// kFree are kept whole; after that one in kEveryS seconds, which says how many were folded into it. What a person
/// says, passes and phases are never folded.
class EventFolding {
 public:
  static constexpr int kFree = 20;
  static constexpr double kEveryS = 10;

  /// The event as it is to be kept; nothing when it was folded. Its time (atS) counts.
  std::optional<Event> take(Event event);
  /// For the end of the run: a sentence for each kind of which some are folded and not yet told.
  std::vector<Event> takeRest();

 private:
  struct Alike {
    int count = 0;
    long long folded = 0;
    double keptS = 0;
    Event last;
  };
  std::map<std::string, Alike> m_alike;
};

}  // namespace ash
