// SPDX-License-Identifier: GPL-3.0-or-later
// What a run tells the desktop: stay awake, come and take a reading, it is over.
#pragma once

#include <string>

#include "desktop/desktop_link.h"
#include "model/study_plan.h"
#include "runner/run_recorder.h"

namespace ash::cli {

class RunManners {
 public:
  /// `place` names the run ("mesh / vector"). A simulated bench keeps nothing awake.
  RunManners(std::string place, const StudyPlan& plan, bool isReal);

  void warn(const std::string& sentence) { m_desktop.tell(m_place, sentence, true); }
  /// Tells once that readings are to be taken, when what they are taken of has been reached.
  void follow(const RunProgress& progress);
  void end(const RunResult& result);

 private:
  std::string m_place;
  std::string m_owed;  // readings to take once it has settled, in words
  DesktopLink m_desktop;
  bool m_isTold = false;
  size_t m_pauseTold = SIZE_MAX;  // phase
};

}  // namespace ash::cli
