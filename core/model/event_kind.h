// SPDX-License-Identifier: GPL-3.0-or-later
// What a moment of a run is about.
#pragma once

#include <array>

#include "model/open_word.h"

namespace ash {

struct EventWords {
  enum Known {
    Note,
    Reading,
    Setting,
    Settings,
    Fault,
    Rule,
    Problem,
    Phase,
    Pass,
    Work,
    Void,
    Fail,
    Change,
    Counter,
    Other
  };
  static constexpr std::array<std::string_view, Other> kWords = {"note", "reading", "setting", "settings", "fault",
                                                                 "rule", "problem", "phase",   "pass",     "work",
                                                                 "void", "fail",    "change",  "counter"};
};
using EventKind = OpenWord<EventWords>;

}  // namespace ash
