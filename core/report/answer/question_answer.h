// SPDX-License-Identifier: GPL-3.0-or-later
// The answer by the kind of question that the study asks.
#pragma once

#include "report/answer/answer.h"

namespace ash {

/// The answer in its own sentences; empty for an open question, and for one whose target is still to be said.
std::vector<Sentence> questionSentences(const StudyReport& report, const LoadStanding& load);

/// Below what leads: each setup by itself where there are too many for one paragraph; else empty.
std::vector<Sentence> detailSentences(const StudyReport& report, const LoadStanding& load);

/// What stands first, on the page and over Standings: the answer to the question, else how the setups compare.
std::vector<Sentence> leadSentences(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
