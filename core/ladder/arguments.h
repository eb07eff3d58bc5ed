// SPDX-License-Identifier: GPL-3.0-or-later
// A ladder as the arguments of `ashg ladder`, for a program that starts one.
#pragma once

#include <string>
#include <vector>

#include "ladder/ladder.h"

namespace ash {

/// All of what is asked, so that "--resume" behind it goes on with that ladder. Without the book.
std::vector<std::string> ladderArguments(const LadderAsk& ask);

}  // namespace ash
