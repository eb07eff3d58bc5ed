// SPDX-License-Identifier: GPL-3.0-or-later
// Which way an answer leans by its chance, in the word that it begins with.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace ash {

enum class Leaning { Yes, Probably, ProbablyNot, No, CannotTell };

/// Yes and No where a 95 % interval lies clear of the target (97.5 %), Probably from 80 %; a missing chance tells
/// nothing.
Leaning leaningOf(double chance);

/// "Yes", "Probably", "Probably not", "No", "Cannot tell".
std::string_view wordsOf(Leaning leaning);

/// "over 99.9 %", "93 %", "under 0.1 %".
std::string chanceWords(double chance);

/// "Solid", "Solid and Mesh", "Solid, Mesh and Foam"; “Teasel, 30 %” and “Teasel, 45 %” where names have commas.
std::string joinedNames(const std::vector<std::string>& names);

}  // namespace ash
