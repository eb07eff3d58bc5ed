// SPDX-License-Identifier: GPL-3.0-or-later
// The line of progress of a run on stderr: phase, temperature, headroom, forecast, time left.
#pragma once

#include <string>

#include "cli/speaker.h"
#include "runner/run_recorder.h"

namespace ash::cli {

/// The line itself, without ends.
std::string progressText(const RunProgress& progress, const Procedure& procedure);

/// On a terminal one line that is written over; elsewhere a line at each phase and every ten seconds.
class ProgressLine {
 public:
  /// Told through `speaker`: a terminal that takes nothing holds nobody up.
  ProgressLine(Procedure procedure, Speaker& speaker);
  void show(const RunProgress& progress);
  void finish();

 private:
  Procedure m_procedure;
  Speaker& m_speaker;
  bool m_isTerminal;
  double m_shownS = 0;
  size_t m_shownPhase = static_cast<size_t>(-1);
};

}  // namespace ash::cli
