// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/answer/answer.h"

namespace ash {

/// "Is the claim true?": each that was made, or each expectation where nothing was claimed, with what was measured and
/// the chance that the true figure lies within what was said.
std::vector<Sentence> claimSentences(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
