// SPDX-License-Identifier: GPL-3.0-or-later
// How a phase ends, as text and back. Part of the grammar of procedures (procedure_text.cpp).
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "model/procedure.h"

namespace ash {

inline constexpr size_t kLongestPhaseWords = 300;
inline constexpr std::string_view kExamplePhases = "\"idle 20s, soak settled 1min..5min, measure 1min, cool 30s\"";
inline constexpr std::string_view kPhaseBlank = " \t";

/// "Phase "…": why. Write phases like …"
Error wrongPhase(std::string_view part, std::string_view why);

/// `text` is what stands behind the kind in `part`.
Result<PhaseEnd> parsePhaseEnd(std::string_view part, PhaseKind kind, std::string_view text);
std::string phaseEndText(const PhaseEnd& end);

/// Words in quotes with \" and \\ in them; what stands behind the closing quote is left in `text`.
std::optional<std::string> takeQuoted(std::string_view& text);
std::string inQuotes(std::string_view words);

}  // namespace ash
