// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/answer/answer.h"

namespace ash {

/// What else is shown to change beside the figure that was asked for, a sentence each, with what it means to a person.
std::vector<Sentence> sideEffectSentences(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
