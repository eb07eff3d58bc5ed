// SPDX-License-Identifier: GPL-3.0-or-later
// Turns knobs, reads back what came of it, and puts everything back.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "knobs/knob.h"
#include "knobs/near_limit.h"
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

/// Puts back what a run that is gone has left turned; what became of it in a sentence, empty when nothing was left.
/// What a person has set stays.
std::string putBackLeft(const std::string& root);

class Turner {
 public:
  /// Holds the journal as long as it lives. Does not put back what it finds turned: restore() does.
  static Result<Turner> open(const std::string& root, TurnedBy by);

  const std::vector<Knob>& knobs() const { return m_knobs; }
  const Knob* find(const std::string& id) const;
  /// Whether it could be turned so; nothing is turned.
  Status check(const std::string& id, const std::string& value) const;
  /// The value before is on disk before it is turned; then it is looked at for 0.3 s. Refused: no such knob, no right,
  /// out of its range, a fan that is to turn slower near a critical limit. `nearest` is asked only for a fan.
  Result<Turned> turn(const std::string& id, const std::string& value, const std::function<NearLimit()>& nearest);
  /// Puts back what this hand has turned, and with `all` what the other has: fans first, then the last that was turned
  /// first. One sentence for each that would not go back; those stay in the journal.
  std::vector<std::string> restore(bool all = false);
  /// Only the fans that this hand has turned: too hot for them. Empty where none was, or all went back.
  std::vector<std::string> releaseFans();
  bool hasTurnedFans() const;
  const std::vector<TurnedFile>& turned() const { return m_journal.turned(); }

 private:
  Turner(std::string root, TurnedJournal journal, TurnedBy by);
  Status checkOrder(const Knob& knob, const KnobTarget& target) const;
  std::string rawOf(const Knob& knob, size_t file, const KnobTarget& target) const;
  Result<std::vector<TurnedFile>> asTheyAre(const Knob& knob) const;
  Turned readBack(const Knob& knob, const KnobTarget& target);
  Status write(const std::string& file, const std::string& raw) const;
  bool look(const std::string& id);
  bool isFileOfFan(const std::string& file) const;
  bool canGoBack(const TurnedFile& one) const;
  std::vector<std::string> putBack(const std::vector<TurnedFile>& files);

  std::string m_root;
  TurnedJournal m_journal;
  TurnedBy m_by;
  std::vector<Knob> m_knobs;
};

}  // namespace ash
