// SPDX-License-Identifier: GPL-3.0-or-later
// A procedure: the phases of a run and what ends each of them. Grammar in docs/procedures.md.
#pragma once

#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "model/result.h"

namespace ash {

enum class PhaseKind { Idle, Soak, Measure, Cool };

std::string_view phaseKindText(PhaseKind kind);   ///< the code: "idle", "soak", "measure", "cool"
std::string_view phaseKindWords(PhaseKind kind);  ///< on the screen: "Rest", "Soak", "Measure", "Recover"
std::optional<PhaseKind> phaseKindFromText(std::string_view text);
/// Idle and cool run without load, soak and measure with it.
bool isUnderLoad(PhaseKind kind);

/// Ends after a fixed time.
struct EndsAfter {
  double seconds = 0;
};
/// Ends when the watched temperature has settled, but not before `leastS` and not after `mostS`.
struct EndsWhenSettled {
  double leastS = 0;
  double mostS = 0;
};
/// Ends when the watched temperature falls below a value, at the latest after `mostS`.
struct EndsBelow {
  double celsius = 0;
  double mostS = 0;
};
/// More endings (work done, pass, temperature reached) join this list.
using PhaseEnd = std::variant<EndsAfter, EndsWhenSettled, EndsBelow>;

struct Phase {
  PhaseKind kind = PhaseKind::Idle;
  PhaseEnd end;
};

struct Procedure {
  std::vector<Phase> phases;
};

inline constexpr double kLongestRecoverS = 1800;  ///< `cool below T` gives up after half an hour

/// Parses `--phases` text: "idle 5min, soak settled 8min..40min, measure 10min, cool below 45".
Result<Procedure> parsePhases(std::string_view text);
/// Writes a procedure in the same grammar.
std::string phasesText(const Procedure& procedure);
/// "Soak until settled, 1 min to 5 min".
std::string phaseWords(const Phase& phase);
double longestPhaseS(const Phase& phase);

}  // namespace ash
