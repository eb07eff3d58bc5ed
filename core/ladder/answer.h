// SPDX-License-Identifier: GPL-3.0-or-later
// What a ladder found, in one sentence.
#pragma once

#include <string>

#include "ladder/ladder.h"

namespace ash {

/// "105 W": a value of its knob.
std::string valueWords(const LadderAsk& ask, double value);

/// "cpu.power.limit: 105 W holds, 110 W does not (throttled …); 105 W is chosen, one step of 5 W below it, and 30 min
/// of Mixdown confirmed it." While it goes on: how far it is.
std::string answerOf(const Ladder& ladder);

}  // namespace ash
