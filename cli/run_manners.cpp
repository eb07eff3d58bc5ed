// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/run_manners.h"

#include <fmt/format.h>

namespace ash::cli {

RunManners::RunManners(std::string place, const StudyPlan& plan, bool isReal) : m_place(std::move(place)) {
  for (const OwedReading& owed : plan.byHand) {
    if (owed.when == OwedReading::When::Settled) m_owed += (m_owed.empty() ? "" : ", ") + owedWords(owed);
  }
  if (isReal) m_desktop.keepAwake(fmt::format("A run is being recorded: {}.", m_place));
}

void RunManners::follow(const RunProgress& progress) {
  const auto* pause = std::get_if<EndsByAnswer>(&progress.phase.end);
  if (pause != nullptr && m_pauseTold != progress.phaseIndex) {
    m_pauseTold = progress.phaseIndex;
    m_desktop.tell(m_place, fmt::format("The run waits for you: {}.", pause->words), true);
  }
  const bool isTime = progress.phase.kind == PhaseKind::Measure || progress.settling.isSettled;
  if (m_isTold || m_owed.empty() || !isTime) return;
  m_isTold = true;
  m_desktop.tell(m_place, fmt::format("Now is the time to take: {}.", m_owed), true);
}

void RunManners::end(const RunResult& result) {
  const bool isPlain = result.outcome == Outcome::Completed || result.outcome == Outcome::StoppedByHand;
  m_desktop.tell(fmt::format("{}: {}", m_place, outcomeText(result.outcome)),
                 result.reason.empty() ? "The run is over." : result.reason, !isPlain);
}

}  // namespace ash::cli
