// SPDX-License-Identifier: GPL-3.0-or-later
// Is the bench ready for the next run? Each check says what it found and how to mend what is wrong.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "model/reading_choice.h"
#include "model/study_plan.h"

namespace ash {

struct ReadinessCheck {
  std::string name;   ///< "Other load"
  std::string found;  ///< "6 %"
  bool isGood = true;
  std::string remedy;  ///< one sentence; empty when it is good
};

/// Looks at a machine; called every few seconds from one thread. It keeps what it needs between two looks.
class Readiness {
 public:
  /// `root` is "" for this machine, else a tree that looks like one.
  explicit Readiness(std::string root = "");

  /// What a person has said of the machine's readings.
  void setChoices(ReadingChoices choices) { m_choices = std::move(choices); }

  /// Everything that should be in order before a run of this plan. `restC` is the temperature at rest of the last run
  /// (missing where there was none).
  std::vector<ReadinessCheck> look(const StudyPlan& plan, const std::string& bookPath, double restC);

 private:
  struct CpuTimes {
    double busy = 0, all = 0;
  };
  CpuTimes cpuTimes() const;
  ReadinessCheck backgroundLoad();
  void addMachineChecks(const StudyPlan& plan, double restC, std::vector<ReadinessCheck>& checks);

  std::string m_root;
  ReadingChoices m_choices;
  std::optional<CpuTimes> m_before;
};

}  // namespace ash
