// SPDX-License-Identifier: GPL-3.0-or-later
// A procedure: the phases of a run and what ends each of them. Grammar in docs/procedures.md.
#pragma once

#include <limits>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "model/result.h"

namespace ash {

enum class PhaseKind { Idle, Soak, Measure, Cool, Pass, Pause };

std::string_view phaseKindText(PhaseKind kind);  ///< the code: "idle", "soak", "measure", "cool", "pass", "pause"
std::string_view phaseKindWords(
    PhaseKind kind);  ///< on the screen: "Rest", "Soak", "Measure", "Recover", "Passes", "Pause"
std::optional<PhaseKind> phaseKindFromText(std::string_view text);
/// Idle and cool run without load; soak, measure and pass with it. A pause leaves the load as it is.
bool isUnderLoad(PhaseKind kind);

inline constexpr double kNoMost = std::numeric_limits<double>::infinity();

/// Ends after a fixed time.
struct EndsAfter {
  double seconds = 0;
};
/// Ends when the watched temperature has settled, but not before `leastS` and not after `mostS`.
struct EndsWhenSettled {
  double leastS = 0;
  double mostS = 0;
};
/// Ends when the watched temperature falls below a value, not before `leastS`, at the latest after `mostS`.
struct EndsBelow {
  double celsius = 0;
  double leastS = 0;
  double mostS = 0;
};
/// Ends when the watched temperature rises above a value, at the latest after `mostS`.
struct EndsAbove {
  double celsius = 0;
  double mostS = 0;
};
inline constexpr double kLongestRunDownS = 86400;  ///< a run-down gives up after a day where no most is said
/// Ends when the battery has fallen to so many percent, at the latest after `mostS`.
struct EndsAtCharge {
  double percent = 0;  ///< 0 = when it is empty, with which most machines go down
  double mostS = kLongestRunDownS;
};
/// Ends when the load has done so many of its units of work (docs/loads.md).
struct EndsWithWork {
  double units = 0;
};
/// Ends when the load has made so many passes, each with its score.
struct EndsAfterPasses {
  int count = 0;
};
/// Ends when a person answers, at the latest after `mostS`, which may be kNoMost.
struct EndsByAnswer {
  std::string words;  ///< what the person shall do
  double mostS = kNoMost;
};
using PhaseEnd = std::variant<EndsAfter, EndsWhenSettled, EndsBelow, EndsAbove, EndsAtCharge, EndsWithWork,
                              EndsAfterPasses, EndsByAnswer>;

/// A knob that is turned before a phase begins.
struct KnobSetting {
  std::string knob, value;  ///< its id, or a name of the person's own; a number or one of its choices
  bool operator==(const KnobSetting&) const = default;
};

struct Phase {
  PhaseKind kind = PhaseKind::Idle;
  PhaseEnd end;
  std::vector<KnobSetting> settings = {};
};

/// Phases [first, first + length) stand there `times` times in a row, as a group that is written once.
struct PhaseGroup {
  size_t first = 0, length = 0, times = 1;
};

struct Procedure {
  std::vector<Phase> phases;            ///< as they run, groups unfolded
  std::vector<PhaseGroup> groups = {};  ///< outer ones behind inner ones; inner ones of the first time only
};

inline constexpr double kLongestRecoverS = 1800;  ///< `below` and `above` give up after half an hour where none is said
inline constexpr size_t kMostPhases = 10'000;     ///< groups unfolded

/// Parses `--phases` text: "idle 5min, 3 x (soak settled 8min..40min, measure 10min, cool below 45)".
Result<Procedure> parsePhases(std::string_view text);
/// Writes a procedure in the same grammar.
std::string phasesText(const Procedure& procedure);
/// "Soak until settled, 1 min to 5 min".
std::string phaseWords(const Phase& phase);
/// "at most 5 min", "until it is answered": how it ends, without its kind.
std::string phaseEndWords(const Phase& phase);
/// kNoMost where nothing bounds it: a pause without its most, work, passes.
double longestPhaseS(const Phase& phase);
/// How long it is reckoned with before anything of it is known: its most, else 3 min for a pause and 15 min for work; 4
/// h at most for a run-down.
double reckonedPhaseS(const Phase& phase);
double reckonedS(const Procedure& procedure);
/// A phase as it is written: with its groups folded, and how often it runs because of them.
struct WrittenPhase {
  size_t index = 0;  ///< in `phases`, of its first time
  size_t times = 1;
};
std::vector<WrittenPhase> asWritten(const Procedure& procedure);
/// The load is on in this phase: a pause has it as the phase before it.
bool isUnderLoad(const Procedure& procedure, size_t index);
/// It runs the battery down in one of its phases.
bool runsBatteryDown(const Procedure& procedure);
/// Somebody has to be there: one of its phases is a pause without a most.
bool needsAPerson(const Procedure& procedure);

}  // namespace ash
