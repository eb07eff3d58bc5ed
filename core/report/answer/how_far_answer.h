// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/answer/answer.h"

namespace ash {

/// "How far can it go?": of setups that are rungs of one setting the furthest that held, and what became of the next;
/// of each other setup how warm a room it stands and how many watts more.
std::vector<Sentence> howFarSentences(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
