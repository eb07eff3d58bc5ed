// SPDX-License-Identifier: GPL-3.0-or-later
// What the helper does for whom, without a bus: it finds the knobs itself, takes an id and a number, and puts back what
// a caller has turned when that caller goes.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "knobs/turner.h"

namespace ash {

/// What is asked of a knob.
struct TurnAsk {
  TurnedBy by = TurnedBy::Run;
  std::string knob;
  double number = 0;  ///< in its unit; of a knob with words which of them, from 0
};

/// Callers are told apart by their unique names on the bus. One of them at a time has knobs turned for a run.
class TurnService {
 public:
  explicit TurnService(std::string root) : m_root(std::move(root)) {}

  /// The knob's name for a person, when it is there and could be turned so; nothing is turned. Looks at the machine at
  /// most every few seconds, so that many questions cost little.
  Result<std::string> check(const TurnAsk& ask);
  Result<Turned> turn(const std::string& caller, const TurnAsk& ask);
  /// Only what this caller has turned for a run; nothing of another's.
  std::vector<std::string> putBack(const std::string& caller);
  std::vector<std::string> releaseFans(const std::string& caller);
  /// All of it, also what was set by hand. Refused while a run has knobs turned.
  Result<PutBack> restore();
  /// Something was set or is turned, or may be.
  bool hasTurned() const { return TurnedJournal::isThere(m_root); }
  void callerIsGone(const std::string& caller);

  const std::string& holder() const { return m_holder; }
  /// Its own look at how hot the machine is, while a caller has fans turned: they are let go when it is near a limit.
  bool hasFansToGuard() const { return m_turner && m_turner->hasTurnedFans(); }
  void guardFans();

 private:
  Result<std::string> valueOf(const TurnAsk& ask);
  const std::vector<Knob>& knobsNow();

  std::string m_root;
  std::vector<Knob> m_knobs;
  std::optional<std::chrono::steady_clock::time_point> m_foundAt;
  std::optional<Turner> m_turner;  // of the holder
  std::string m_holder;
};

}  // namespace ash
