// SPDX-License-Identifier: GPL-3.0-or-later
// Changes of a setup that all that names it has to follow.
#pragma once

#include <string>

#include "model/study_plan.h"

namespace ash {

/// Its reference, what is stated of it, and its ways of carrying loads out go along.
void renameSetup(Study& study, StudyPlan& plan, size_t setup, const std::string& name);

/// Its ways of carrying loads out go with it.
void removeSetup(Study& study, size_t setup);

}  // namespace ash
