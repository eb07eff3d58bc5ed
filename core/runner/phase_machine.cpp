// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/phase_machine.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {
constexpr char kMostIsUp[] = "its most time was up";
constexpr double kAtChargeS = 3;  // one reading, renewed once a second, may be wrong
}  // namespace

double PhaseMachine::elapsedS(double timeS) const { return std::isfinite(m_startS) ? timeS - m_startS : 0; }

std::optional<std::string> PhaseMachine::reasonToEnd(const Moment& moment) const {
  if (m_endNow) return "ended by hand";
  // The next sample comes an interval later: a phase of 20 s holds the samples of [0 s, 20 s).
  const double atNextS = elapsedS(moment.timeS) + m_intervalS + 1e-6;
  const Phase& current = phase();
  if (const auto* after = std::get_if<EndsAfter>(&current.end)) {
    if (atNextS >= after->seconds + m_extraS) return "its time was up";
  } else if (const auto* settled = std::get_if<EndsWhenSettled>(&current.end)) {
    if (atNextS >= settled->mostS + m_extraS) return kMostIsUp;
    if (atNextS < settled->leastS + m_extraS) return std::nullopt;
    if (!moment.canSettle) return "no temperature can be read, so its least time was taken";
    if (moment.hasSettled) return "settled";
  } else if (const auto* below = std::get_if<EndsBelow>(&current.end)) {
    if (atNextS >= below->mostS + m_extraS) return moment.watchedC < below->celsius ? "cooled down" : kMostIsUp;
    if (moment.watchedC < below->celsius && atNextS >= below->leastS) return "cooled down";
  } else if (const auto* above = std::get_if<EndsAbove>(&current.end)) {
    if (moment.watchedC > above->celsius) return "warmed up";
    if (atNextS >= above->mostS + m_extraS) return kMostIsUp;
  } else if (const auto* charge = std::get_if<EndsAtCharge>(&current.end)) {
    if (moment.timeS - m_atChargeSinceS >= kAtChargeS)
      return charge->percent > 0 ? "the battery is run down" : "the battery is empty";
    if (atNextS >= charge->mostS + m_extraS) return kMostIsUp;
  } else if (const auto* answer = std::get_if<EndsByAnswer>(&current.end)) {
    if (m_isDone) return "answered";
    if (atNextS >= answer->mostS + m_extraS) return "nobody has answered within its time";
  } else if (m_isDone) {
    return std::holds_alternative<EndsAfterPasses>(current.end) ? "its passes were made" : "its work was done";
  }
  return std::nullopt;
}

bool PhaseMachine::take(const Moment& moment) {
  if (isFinished()) return false;
  if (!std::isfinite(m_startS)) m_startS = moment.timeS;
  const auto* charge = std::get_if<EndsAtCharge>(&phase().end);
  if (charge == nullptr || !(moment.chargePercent <= charge->percent))
    m_atChargeSinceS = kMissing;
  else if (!std::isfinite(m_atChargeSinceS))
    m_atChargeSinceS = moment.timeS;
  const auto reason = reasonToEnd(moment);
  if (!reason) return false;
  m_lastEnd = *reason;
  beginPhase(m_index + 1);
  return true;
}

void PhaseMachine::beginPhase(size_t index) {
  m_index = index;
  m_startS = kMissing;
  m_extraS = 0;
  m_endNow = m_isDone = false;
  m_atChargeSinceS = kMissing;
}

bool PhaseMachine::answer() {
  if (!isPaused()) return false;
  m_isDone = true;
  return true;
}

bool PhaseMachine::workDone() {
  const bool endsWithWork = !isFinished() && (std::holds_alternative<EndsWithWork>(phase().end) ||
                                              std::holds_alternative<EndsAfterPasses>(phase().end));
  m_isDone |= endsWithWork;
  return endsWithWork;
}

void PhaseMachine::leaveLoad(const char* because) {
  const auto& phases = m_procedure.phases;
  size_t next = m_index;
  for (size_t i = m_index; i < phases.size(); ++i) {
    if (isUnderLoad(phases[i].kind)) next = i + 1;
  }
  if (next == m_index) return;
  beginPhase(next);
  m_lastEnd = because;
}

double PhaseMachine::longestLeftS(double timeS) const {
  if (isFinished()) return 0;
  return std::max(0.0, longestPhaseS(phase()) + m_extraS - elapsedS(timeS));
}

double PhaseMachine::longestRunLeftS(double timeS) const {
  double left = longestLeftS(timeS);
  for (size_t i = m_index + 1; i < m_procedure.phases.size(); ++i) left += longestPhaseS(m_procedure.phases[i]);
  return left;
}

}  // namespace ash
