// SPDX-License-Identifier: GPL-3.0-or-later
// What the recorder tells to who is attached, and what it is asked for.
#include <algorithm>

#include "model/entry_line.h"
#include "runner/message_type.h"
#include "runner/run_messages.h"
#include "runner/run_recorder.h"
#include "runner/run_wish.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr double kStateEveryS = 0.2;  // real seconds between "state" messages
}

// False when it was folded into others of its kind.
bool RunRecorder::addEvent(const Event& event) {
  const auto kept = m_folding.take(event);
  if (!kept) return false;
  m_writer->addEvent(*kept);
  if (m_socket) m_socket->tell(eventMessage(*kept));
  return true;
}

bool RunRecorder::noteProblem(const ProblemKind& kind, const std::string& text) {
  if (!addEvent({m_timeS, EventKind::Problem, text, "", kMissing, kMissing, {{"kind", kind.text()}}})) return false;
  m_result.problems.push_back(text);
  return true;
}

void RunRecorder::tellPhase(double timeS) {
  if (m_socket) m_socket->tell(phaseMessage(m_phases, timeS), true);
}

void RunRecorder::tellState(double timeS) {
  if (!m_socket) return;
  const double nowS = monotonicS();
  if (nowS - m_lastStateS < kStateEveryS && !m_outcome) return;
  m_lastStateS = nowS;
  RunProgress now = progress();
  now.timeS = timeS;
  m_socket->tell(stateMessage(now, m_rules->states(), m_isLoadOn), true);
}

void RunRecorder::answerWishes() {
  if (!m_socket) return;
  for (const Json& wish : m_socket->takeWishes()) {
    Json answer = carryOut(wish);
    answer["type"] = MessageType(MessageType::Answer).text();
    m_socket->answer(valueIn(wish, "client", 0LL), answer);
  }
}

Json RunRecorder::carryOut(const Json& wish) {
  const auto asked = parseWish(wish);
  if (!asked) return {{"ok", false}, {"why", asked.error().message}};
  switch (asked->kind) {
    case WishKind::Stop:
      end(Outcome::StoppedByHand, asked->text);
      break;
    case WishKind::EndPhase:
      m_phases.endPhaseNow();
      break;
    case WishKind::Extend:
      m_phases.extend(asked->seconds);
      break;
    case WishKind::Note:
      return takeEntry(asked->text);
    case WishKind::Answer:
      return takeAnswer(asked->text);
    case WishKind::Other:
      break;
  }
  return {{"ok", true}, {"run", m_info.id}, {"t", m_timeS}};
}

// Words of an answer are a line of the entry grammar, too: "noise 38.5" is a reading. What is none is a note.
Json RunRecorder::takeAnswer(const std::string& words) {
  if (!m_phases.isPaused()) return {{"ok", false}, {"why", "No pause is waiting for an answer."}};
  Json told = {{"ok", true}, {"run", m_info.id}, {"t", m_timeS}};
  if (!words.empty()) told = takeEntry(words);
  if (valueIn(told, "ok", false)) m_phases.answer();
  return told;
}

// A line of the entry grammar; what it says becomes an event; a void ends the run, and so does a failure that a person
// saw.
Json RunRecorder::takeEntry(const std::string& line) {
  const auto entry = parseEntry(line);
  if (!entry) return {{"ok", false}, {"why", entry.error().message}};
  addEvent(eventOf(*entry, m_timeS));
  if (entry->kind == Entry::Kind::Void) end(Outcome::Void, entry->text);
  if (entry->kind == Entry::Kind::Fail) end(Outcome::LoadFailed, entry->text);
  return {{"ok", true}, {"run", m_info.id}, {"t", m_timeS}, {"kept", entryWords(*entry)}};
}

RunProgress RunRecorder::progress() const {
  RunProgress now;
  now.runId = m_info.id;
  now.timeS = m_timeS;
  now.phaseIndex = std::min(m_phases.index(), m_plan.procedure.phases.size() - 1);
  now.phase = m_plan.procedure.phases[now.phaseIndex];
  now.phaseS = m_phases.isFinished() ? 0 : m_phases.elapsedS(m_timeS);
  now.longestRunLeftS = m_phases.longestRunLeftS(m_timeS);
  if (!m_phases.isFinished()) now.drainedInS = m_drain.leftS(now.phase);
  now.watched = m_info.watched;
  const auto watched = m_values.find(m_info.watched);
  if (watched != m_values.end()) now.watchedC = watched->second;
  now.roomC = room();
  now.throttleLimitC = m_throttleLimitC;
  if (m_isLoadOn && m_settling) {
    now.settling = m_settling->verdict();
    now.settlesAtS = m_settling->settlesAtS();
  }
  return now;
}

}  // namespace ash
