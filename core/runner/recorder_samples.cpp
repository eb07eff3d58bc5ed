// SPDX-License-Identifier: GPL-3.0-or-later
// What comes in while a run goes on: readings, rules that trip, a machine that sleeps, errors that the kernel tells of.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/text.h"
#include "runner/run_messages.h"
#include "runner/run_recorder.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr double kLeastStaleS = 0.5;
constexpr double kSleptS = 1;  // less is the two clocks' own difference
}  // namespace

double RunRecorder::valueOf(const std::string& role) const {
  const auto found = m_values.find(role);
  return found == m_values.end() ? kMissing : found->second;
}

double RunRecorder::room() const { return valueOf(roles::kRoom); }

double RunRecorder::watchedC() const { return valueOf(m_info.watched); }

void RunRecorder::takeSweep(int source, const Sweep& sweep) {
  if (!m_zeroS) m_zeroS = sweep.timeS;
  // A sweep that began before the first one had ended would lie before the run.
  const double timeS = std::max(0.0, sweep.timeS - *m_zeroS);
  double& before = m_sweptS[static_cast<size_t>(source)];
  if (timeS <= before) return;
  before = timeS;
  m_timeS = std::max(m_timeS, timeS);
  m_writer->addSweep(source, timeS, sweep.values);
  const auto& readings = m_bench.sources()[static_cast<size_t>(source)].readings;
  for (size_t i = 0; i < readings.size() && i < sweep.values.size(); ++i) {
    const std::string& column = readings[i].column();
    m_values[column] = sweep.values[i];
    if (sweep.isAsleep)
      m_asleep.insert(column);
    else if (!m_asleep.empty())
      m_asleep.erase(column);
  }
  if (m_socket) m_socket->tell(samplesMessage(source, timeS, sweep.values));
}

// A source that no longer answers has no value now, whatever it said last.
void RunRecorder::dropStale(double timeS) {
  for (size_t source = 0; source < m_sweptS.size(); ++source) {
    const SourceInfo& info = m_bench.sources()[source];
    const double staleS = std::max(kLeastStaleS, 2 * std::max(m_plan.intervalS, info.paceS));
    if (!(timeS - m_sweptS[source] > staleS)) continue;
    for (const Reading& reading : info.readings) {
      if (const auto value = m_values.find(reading.column()); value != m_values.end()) value->second = kMissing;
    }
  }
}

void RunRecorder::take(const Tick& tick) {
  if (tick.sweeps.empty()) return;
  const double beforeS = m_timeS;
  for (const auto& [source, sweep] : tick.sweeps) takeSweep(source, sweep);
  const double timeS = std::max(beforeS, tick.sweeps.front().second.timeS - *m_zeroS);
  dropStale(timeS);
  if (m_phaseIsNew) {
    m_phaseIsNew = false;
    if (m_phases.index() > 0) m_writer->endPhase(timeS);
    m_writer->beginPhase(m_phases.phase().kind, timeS);
    tellPhase(timeS);
  }
  watchRules(timeS);
  // A rule may have moved the run into its next phase, which begins with the next sample.
  if (m_outcome || m_phaseIsNew) return;
  feedSettling(timeS);
  movePhases(timeS);
  tellState(timeS);
}

// A driver that renews its value once a second shows the same one to whoever asks sooner: repeats are no sign of rest.
void RunRecorder::feedSettling(double timeS) {
  if (timeS >= m_fedS && timeS - m_fedS < 0.9 * m_watchedRefreshS) return;
  m_fedS = timeS;
  SettlingWatch::Moment moment{timeS, watchedC(), room(), valueOf(m_powerBehind)};
  for (const std::string& role : m_delivered) moment.delivered.push_back(valueOf(role));
  if (m_isLoadOn)
    m_settling->take(moment);
  else
    m_settling->takeRest(moment);
}

// The rules hold while no source answers, too.
void RunRecorder::watchWithoutTick() {
  const double nowS = m_bench.nowS();
  if (!m_zeroS || !std::isfinite(nowS)) return;
  const double timeS = nowS - *m_zeroS;
  if (timeS - m_timeS < std::max(kLeastStaleS, 2 * m_plan.intervalS)) return;
  dropStale(timeS);
  watchRules(timeS);
}

void RunRecorder::watchRules(double timeS) {
  const RuleMoment moment{timeS, m_values, m_asleep, m_isLoadOn, m_bench.wrongResults(), m_writer->freeSpaceB()};
  for (const RuleTrip& trip : m_rules->take(moment)) {
    if (trip.rule.action >= StopRule::Action::StopLoad) {
      m_bench.stopLoad();
      m_isLoadOn = false;
    }
    carryOutRule(trip, timeS);
  }
}

void RunRecorder::carryOutRule(const RuleTrip& trip, double timeS) {
  addEvent({timeS,
            EventKind::Rule,
            trip.sentence,
            trip.rule.role,
            kMissing,
            kMissing,
            {{"rule", stopRuleText(trip.rule)}, {"action", stopActionText(trip.rule.action)}}});
  switch (trip.rule.action) {
    case StopRule::Action::Note:
      return;
    case StopRule::Action::Warn:
      if (noteProblem(ProblemKind::Rule, trip.sentence) && m_plan.onWarning) m_plan.onWarning(trip.sentence);
      return;
    case StopRule::Action::StopLoad:
      if (m_ruleReason.empty()) m_ruleReason = trip.sentence;
      m_phases.leaveLoad();
      m_phaseIsNew = true;
      if (m_phases.isFinished()) end(Outcome::StoppedByRule, m_ruleReason);
      return;
    case StopRule::Action::StopRun: {
      // A machine that computes wrongly has failed the load; it is not the rule that failed it.
      const bool isWrong = trip.rule.kind == StopRule::Kind::WrongResult;
      const std::string words = isWrong ? m_bench.wrongResultsWords() : std::string();
      end(isWrong ? Outcome::LoadFailed : Outcome::StoppedByRule,
          words.empty() ? trip.sentence : words + ": the machine computes wrongly at these settings.");
      tellState(timeS);
      return;
    }
  }
}

// While the machine sleeps its clock goes on and nothing else does: the phase gets that time back, no rule has held
// through it, and a device that cooled meanwhile settles anew.
void RunRecorder::noticeSleep() {
  const double sleptS = m_bench.sleptS();
  const double newS = sleptS - m_sleptS;
  if (newS < kSleptS) return;
  m_sleptS = sleptS;
  m_phases.extend(newS);
  m_rules->forgetTimes();
  if (m_isLoadOn) m_settling->restart();
  noteProblem(ProblemKind::Gap,
              fmt::format("The machine slept for {}; nothing was recorded meanwhile.", durationWords(newS)));
}

void RunRecorder::takeFindings(bool isLast) {
  for (Event event : m_bench.takeFindings(isLast)) {
    event.atS = m_timeS;
    // Told on the axis of the sweeps.
    for (const char* key : {"start_s", "end_s"}) {
      if (event.kind == EventKind::Pass && m_zeroS)
        event.extra[key] = std::max(0.0, valueIn(event.extra, key, *m_zeroS) - *m_zeroS);
    }
    if (event.kind == EventKind::Problem) {
      noteProblem(ProblemKind::fromText(valueIn(event.extra, "kind", "bench")), event.text);
    } else {
      addEvent(event);
    }
  }
}

}  // namespace ash
