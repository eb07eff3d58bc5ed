// SPDX-License-Identifier: GPL-3.0-or-later
// Who turns knobs: this process itself (turner.h), or the helper for one that may not (helper/helper_hand.h).
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "knobs/knob.h"
#include "knobs/near_limit.h"
#include "model/result.h"

namespace ash {

/// A person by `ashg set`, which stays until `ashg restore`; or a run, which puts it back at its end.
enum class TurnedBy { Hand, Run };

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
  double number = 0;      ///< of one with choices: which of them, from 0
  std::string word, raw;  ///< of one with choices
};
Result<KnobTarget> targetOf(const Knob& knob, const std::string& value);

/// What became of putting everything back.
struct PutBack {
  size_t files = 0;                   ///< that went back
  std::vector<std::string> troubles;  ///< one sentence for each that would not
};

/// Turns knobs, reads back what came of it, and puts everything back.
class KnobHand {
 public:
  virtual ~KnobHand() = default;

  virtual const std::vector<Knob>& knobs() const = 0;
  const Knob* find(const std::string& id) const;
  /// Whether it could be turned so; nothing is turned.
  Status check(const std::string& id, const std::string& value) const;
  /// The value before is on disk before it is turned; then it is looked at for 0.3 s. Refused: no such knob, no right,
  /// out of its range, a fan that is to turn slower near a critical limit. `nearest` is asked only for a fan.
  virtual Result<Turned> turn(const std::string& id, const std::string& value,
                              const std::function<NearLimit()>& nearest) = 0;
  /// Puts back what this hand has turned, and with `all` what the other has: fans first, then the last that was turned
  /// first. One sentence for each that would not go back; those stay in the journal.
  virtual std::vector<std::string> restore(bool all) = 0;
  /// Only the fans that this hand has turned: too hot for them. Empty where none was, or all went back.
  virtual std::vector<std::string> releaseFans() = 0;
  virtual bool hasTurnedFans() const = 0;

 protected:
  KnobHand() = default;
  KnobHand(const KnobHand&) = default;
  KnobHand& operator=(const KnobHand&) = default;
  KnobHand(KnobHand&&) = default;
  KnobHand& operator=(KnobHand&&) = default;
};

}  // namespace ash
