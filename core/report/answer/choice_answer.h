// SPDX-License-Identifier: GPL-3.0-or-later
// Which setup is best, at what price, and for whom another one is right; and what each takes more than the reference.
#pragma once

#include "report/answer/answer.h"

namespace ash {

/// Who is first by the figure that is asked for, how surely, what it takes in noise, power, speed and money, and who is
/// better served otherwise.
std::vector<Sentence> bestSentences(const StudyReport& report, const LoadStanding& load);

/// For each setup what it takes more than the reference and what it gives, with the price of a kelvin and of a decibel.
std::vector<Sentence> costSentences(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
