// SPDX-License-Identifier: GPL-3.0-or-later
// Turns knobs, reads back what came of it, and puts everything back.
#pragma once

#include <string>
#include <vector>

#include "knobs/knob.h"
#include "knobs/turned_journal.h"
#include "model/result.h"

namespace ash {

/// What became of a knob.
struct Turned {
  std::string knob, unit;
  std::string asked, readBack;  ///< numbers in the unit, or words
  bool isAsAsked = true;
};
/// "cpu.power.limit: 45 W", "cpu.power.limit: asked 45 W, got 23 W".
std::string turnedWords(const Turned& turned);

/// What a value would be for a knob; the error says the range or the words that it takes.
struct KnobTarget {
  double number = 0;
  std::string word, raw;  ///< of one with choices
};
Result<KnobTarget> targetOf(const Knob& knob, const std::string& value);

/// Puts back what a process that is gone has left turned; what became of it in a sentence, empty when nothing was left.
std::string putBackLeft(const std::string& root);

class Turner {
 public:
  /// Holds the journal as long as it lives. Does not put back what it finds turned: restore() does.
  static Result<Turner> open(const std::string& root);

  const std::vector<Knob>& knobs() const { return m_knobs; }
  const Knob* find(const std::string& id) const;
  /// Whether it could be turned so; nothing is turned.
  Status check(const std::string& id, const std::string& value) const;
  /// The value before is on disk before it is turned. Refused: no such knob, no right, out of its range, a fan that is
  /// to turn slower within 5 K of a critical limit.
  Result<Turned> turn(const std::string& id, const std::string& value);
  /// Puts everything back that the journal knows: fans to what drives them first, then the last that was turned first.
  /// One sentence for each that would not go back; those stay in the journal.
  std::vector<std::string> restore();
  const std::vector<TurnedFile>& turned() const { return m_journal.turned(); }

 private:
  Turner(std::string root, TurnedJournal journal);
  Status write(const std::string& file, const std::string& raw) const;
  Status turnFile(const Knob& knob, const std::string& file, const std::string& raw, bool isFanMode);
  Turned readBack(const Knob& knob, const KnobTarget& target);
  Status checkCool(const Knob& knob, const KnobTarget& target) const;
  Status checkOrder(const Knob& knob, const KnobTarget& target) const;
  bool putBack(const TurnedFile& one) const;

  std::string m_root;
  TurnedJournal m_journal;
  std::vector<Knob> m_knobs;
};

}  // namespace ash
