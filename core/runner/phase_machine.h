// SPDX-License-Identifier: GPL-3.0-or-later
// Which phase a run is in and when the next one begins. Pure: fed with times and verdicts, it decides.
#pragma once

#include <optional>
#include <string>

#include "model/procedure.h"
#include "model/reading.h"

namespace ash {

class PhaseMachine {
 public:
  PhaseMachine(Procedure procedure, double intervalS) : m_procedure(std::move(procedure)), m_intervalS(intervalS) {}

  /// What the machine needs to know of a moment.
  struct Moment {
    double timeS = 0;
    bool canSettle = true;  ///< false where no temperature can be read: `settled` then ends after its least time
    bool hasSettled = false;
    double watchedC = kMissing;
    double chargePercent = kMissing;
  };

  /// Called for every sample. True when the current phase is over with this sample: the next one begins with the next.
  bool take(const Moment& moment);

  bool isFinished() const { return m_index >= m_procedure.phases.size(); }
  size_t index() const { return m_index; }
  const Phase& phase() const { return m_procedure.phases[m_index]; }
  const Procedure& procedure() const { return m_procedure; }
  /// First sample of the current phase; missing before it has come.
  double startS() const { return m_startS; }
  double elapsedS(double timeS) const;
  /// At most this long until the current phase ends, by its own rule; kNoMost where nothing bounds it.
  double longestLeftS(double timeS) const;
  /// At most this long until the whole procedure is done.
  double longestRunLeftS(double timeS) const;
  /// Why the phase that was left last has ended, in words ("settled", "its most time was up", "ended by hand").
  const std::string& lastEnd() const { return m_lastEnd; }

  /// No load any more: goes on with what follows the last phase under load.
  void leaveLoad(const char* because = "a rule stopped the load");
  void endPhaseNow() { m_endNow = true; }
  /// A person has answered the pause. False where there is none.
  bool answer();
  /// The load's work of this phase is done. False where its end is another one.
  bool workDone();
  /// Waits for a person.
  bool isPaused() const { return !isFinished() && phase().kind == PhaseKind::Pause; }
  void extend(double seconds) { m_extraS += seconds; }

 private:
  std::optional<std::string> reasonToEnd(const Moment& moment) const;
  void beginPhase(size_t index);

  Procedure m_procedure;
  double m_intervalS;
  size_t m_index = 0;
  double m_startS = kMissing;
  double m_extraS = 0;
  double m_atChargeSinceS = kMissing;
  bool m_endNow = false;
  bool m_isDone = false;  // answered, or the work is done
  std::string m_lastEnd;
};

}  // namespace ash
