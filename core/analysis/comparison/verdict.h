// SPDX-License-Identifier: GPL-3.0-or-later
// What a comparison says of a figure and of two runs, as values; their words are those of the contract
// (docs/analysis-contract.md, 4).
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ash {

/// What the difference of a figure from the reference's comes to.
enum class Verdict {
  None,  ///< of the reference itself
  WithinMargin,
  TooFewRepeats,
  Better,
  Worse,
  Higher,  ///< of a figure of which neither way is better
  Lower,
  NotComparable,
};
/// "within margin", "better", …; empty for None.
std::string_view wordsOf(Verdict verdict);
/// Better, worse, higher or lower: a difference that is shown.
bool isShown(Verdict verdict);

/// On which side of a difference the true one lies.
enum class Bound { None, AtLeast, AtMost };
/// "at least", "at most" or empty.
std::string_view wordsOf(Bound bound);

/// What a finding about two runs does: keeps them from being compared, is to be read, is to be known. The worst first.
enum class Severity { Block, Warn, Info };
std::string_view wordsOf(Severity severity);

enum class CheckKind {
  Load,
  Room,
  Machine,
  Bench,
  Procedure,
  Clock,  ///< of a channel
  Window,
  Fan,  ///< of a channel
  Settling,
  Duration,
  Instrument,
  BackgroundLoad,
  StartedWarm,
  RoomMoved,
  PowerRole,
  SeveralChanges,
  Void,
  Outcome,
  Repeat,
  Remount,
  Resistance,
  FirstMount,
  SideEffect,
  NoiseDistance,
  Equal,
  Field,  ///< a condition, a setting or a version that differs
};

/// A finding about the runs of a comparison.
struct ComparisonCheck {
  Severity severity = Severity::Info;
  std::vector<std::string> between;
  CheckKind kind = CheckKind::Field;
  std::string text;
  std::string subject = {};  ///< the channel of Clock and Fan, the field of Field
};

/// What names the finding outside: "settling", "cpu.clock", "panel".
std::string codeOf(const ComparisonCheck& check);
/// Its heading: "Not settled", "Unequal clocks", "Panel differs".
std::string titleOf(const ComparisonCheck& check);

}  // namespace ash
