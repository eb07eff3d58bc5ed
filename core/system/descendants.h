// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that a process has started, however it hides, and its end.
#pragma once

#include <sys/types.h>

#include <vector>

namespace ash {

/// From now on a process below this one whose parent dies becomes a child of this one instead of the machine's first
/// process, also one that has left its session (prctl(2), PR_SET_CHILD_SUBREAPER).
void adoptOrphans();

/// All processes below this one, children and theirs; those that have ended and were not yet waited for are left out.
std::vector<pid_t> descendants();

/// Ends all processes below this one: SIGTERM first, SIGKILL when its time is up; those that come up meanwhile as well.
class DescendantsEnd {
 public:
  /// `graceS`: seconds between the two signals.
  explicit DescendantsEnd(double graceS);
  /// Looks once, signals, and collects what has ended; never waits. True when nothing is left. `spared` are left
  /// alone, with what they have started (0 = none).
  bool step(pid_t spared = 0);
  /// Steps until nothing is left, or until `patienceS` seconds are over: what is left then waits in the kernel.
  bool runFor(double patienceS);

 private:
  double m_graceS;
  double m_beganS;
};

}  // namespace ash
