// SPDX-License-Identifier: GPL-3.0-or-later
// Checks that a person has accepted: they stay checks, and say by whom they were taken as they are.
#pragma once

#include <string>

#include "analysis/comparison/verdict.h"
#include "model/study_plan.h"

namespace ash {

/// Null where nobody has accepted it. One about other runs is another check.
const AcceptedCheck* acceptanceOf(const StudyPlan& plan, const ComparisonCheck& check);

/// Accepts it for a reason, in the place of an earlier one; an empty reason takes that back. `when` is ISO 8601.
void acceptCheck(StudyPlan& plan, const ComparisonCheck& check, const std::string& reason, const std::string& when);

/// "accepted by the tester on 2026-12-01: the door was open on purpose".
std::string acceptedWords(const AcceptedCheck& accepted);

}  // namespace ash
