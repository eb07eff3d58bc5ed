// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/instrument_source.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>
#include <utility>

#include "system/clock.h"

namespace ash {
namespace {

constexpr std::array kPausesS = {0.5, 1.0, 2.0, 4.0, 8.0, 15.0};
constexpr size_t kMostTold = 100;
constexpr size_t kTicks = 60, kMostWaitingSweeps = 20'000, kMostAnswers = 4096;
constexpr double kKeptS = 10;            // answers, beyond the delay
constexpr size_t kFailuresToBeLost = 5;  // rounds in a row without one answer
constexpr double kLeeway = 0.25;         // of the time between two sweeps
constexpr double kGoodbyeS = 1;          // for a talk to come to its end; then its thread is left behind

std::chrono::duration<double> seconds(double s) { return std::chrono::duration<double>(std::max(s, 0.0)); }

Reading readingOf(const Instrument& instrument, const InstrumentReading& asked, const std::string& column) {
  Reading reading;
  reading.id = asked.role.empty() ? column : instrumentReadingId(instrument, asked);
  reading.device = instrument.name;
  reading.driver = std::string(instrumentKindText(instrument.kind));
  reading.kind = kInstrumentKind;
  reading.name = asked.title();
  if (const Role role(column); !asked.role.empty() && role.isKnown()) reading.role = role;
  reading.ruleRole = asked.role;
  reading.quantity = asked.unit.quantity;
  reading.unit = asked.storedUnit();
  reading.accuracy = asked.accuracy.plusMinus;
  reading.accuracyPercent = asked.accuracy.percent;
  reading.refreshS = instrument.intervalS;
  reading.place = asked.place;
  return reading;
}

}  // namespace

std::string instrumentReadingId(const Instrument& instrument, const InstrumentReading& reading) {
  return fmt::format("instrument/{}/{}", instrument.name, reading.title());
}

/// Shared with the thread, which may outlive the source when a library hangs.
struct InstrumentSource::Shared {
  Instrument instrument;
  mutable std::mutex mutex;
  mutable std::condition_variable changed;
  // Guarded by `mutex`.
  bool isOver = false, hasEnded = false, isResting = false;
  InstrumentState state;
  struct Taken {
    double atS, value, holdsS;
  };
  std::vector<std::deque<Taken>> taken;  // by reading, as far back as a sweep may ask
  size_t silentRounds = 0;
  std::vector<std::string> told;  // what is to be noted and was not taken yet
  bool isOverloaded = false;
  bool wasOpen = false;

  // False when it is over or to rest.
  bool wait(double untilS) {
    std::unique_lock lock(mutex);
    changed.wait_for(lock, seconds(untilS - monotonicS()), [this] { return isOver || isResting; });
    return !isOver && !isResting;
  }

  // Until it is to be talked to again; false when it is over.
  bool waitWhileResting() {
    std::unique_lock lock(mutex);
    changed.wait(lock, [this] { return isOver || !isResting; });
    return !isOver;
  }

  void noteRest() {
    const std::lock_guard lock(mutex);
    if (!isResting) return;
    state.isOpen = wasOpen = false;
    state.failures = 0;
    state.error.clear();
    for (auto& of : taken) of.clear();
  }

  void note(const std::vector<Answer>& answers, double clockOffsetS) {
    const std::lock_guard lock(mutex);
    state.clockOffsetS = clockOffsetS;
    noteOverload(answers);
    bool isAnswered = false, isLate = false, isPushed = true;
    for (size_t i = 0; i < answers.size(); ++i) {
      const Answer& answer = answers[i];
      const bool isNews = answer.isFailure() || std::isfinite(answer.atS);
      isPushed = isPushed && !isNews;
      if (std::isfinite(answer.atS)) keep(taken[i], answer);
      if (!isNews) continue;
      (answer.isFailure() ? state.failures : state.answers) += 1;
      isAnswered = isAnswered || !answer.isFailure();
      isLate = isLate || answer.isFailure() || answer.roundTripS > instrument.timeoutS / 2;
      if (std::isfinite(answer.roundTripS)) state.roundTripS = answer.roundTripS;
      state.last[i] = answer;
      if (!answer.isFailure()) state.hasAnswered[i] = true;
      if (answer.isFailure()) state.error = answer.fault;
    }
    if (isAnswered && !isLate) state.error.clear();
    silentRounds = isAnswered ? 0 : silentRounds + (isPushed ? 0 : 1);
    state.isOpen = silentRounds < kFailuresToBeLost;
    // One that tells by itself is not late by saying nothing for a while.
    if (!isPushed)
      tick(!isAnswered ? InstrumentState::Tick::None
           : isLate    ? InstrumentState::Tick::Late
                       : InstrumentState::Tick::Answered);
    changed.notify_all();
  }

  // Once for as long as it lasts.
  void noteOverload(const std::vector<Answer>& answers) {
    const auto news = std::find_if(answers.begin(), answers.end(),
                                   [](const Answer& one) { return one.isFailure() || std::isfinite(one.atS); });
    if (news == answers.end()) return;
    if (news->isOverload && !isOverloaded && told.size() < kMostTold)
      told.push_back(fmt::format("{}: {}.", instrument.name, news->fault));
    isOverloaded = news->isOverload;
  }

  void keep(std::deque<Taken>& of, const Answer& answer) const {
    of.push_back({answer.atS - instrument.delayS, answer.value,
                  std::isfinite(answer.holdsS) ? answer.holdsS : answerHoldsS(instrument)});
    while (of.size() > 2 && (of.size() > kMostAnswers || answer.atS - of[1].atS > instrument.delayS + kKeptS))
      of.pop_front();
  }

  void tick(InstrumentState::Tick tick) {
    state.ticks.push_back(tick);
    if (state.ticks.size() > kTicks) state.ticks.erase(state.ticks.begin());
  }

  void noteLoss(const std::string& why) {
    const std::lock_guard lock(mutex);
    state.error = why;
    state.isOpen = false;
    for (auto& of : taken) of.clear();  // what it said before is of no time after
    ++state.failures;
    for (Answer& answer : state.last) answer = faultOf(why);
    tick(InstrumentState::Tick::None);
    changed.notify_all();
  }

  void noteOpen(const std::string& identity) {
    const std::lock_guard lock(mutex);
    state.identity = identity;
    state.error.clear();
    state.isOpen = wasOpen = true;
    silentRounds = 0;
  }

  // The newest answer of a reading that had been taken by then (half a sweep's leeway is the caller's).
  double valueAt(size_t reading, double atS) const {
    const auto& of = taken[reading];
    const auto newest = std::find_if(of.rbegin(), of.rend(), [atS](const Taken& one) { return one.atS <= atS; });
    return newest == of.rend() || atS - newest->atS > newest->holdsS ? kMissing : newest->value;
  }
};

InstrumentSource::InstrumentSource(Instrument instrument, std::vector<std::string> columns)
    : m_shared(std::make_shared<Shared>()) {
  m_info.id = "instrument/" + instrument.name;
  for (size_t i = 0; i < instrument.readings.size(); ++i) {
    const InstrumentReading& asked = instrument.readings[i];
    m_info.readings.push_back(readingOf(instrument, asked, i < columns.size() ? columns[i] : asked.title()));
  }
  m_shared->state.last.resize(instrument.readings.size());
  m_shared->state.hasAnswered.resize(instrument.readings.size());
  m_shared->taken.resize(instrument.readings.size());
  m_shared->instrument = std::move(instrument);
  std::thread(work, m_shared).detach();
}

InstrumentSource::~InstrumentSource() {
  std::unique_lock lock(m_shared->mutex);
  m_shared->isOver = true;
  m_shared->changed.notify_all();
  m_shared->changed.wait_for(lock, seconds(kGoodbyeS), [this] { return m_shared->hasEnded; });
}

void InstrumentSource::work(const std::shared_ptr<Shared>& shared) {
  const Instrument& instrument = shared->instrument;
  size_t pause = 0;
  double nextS = monotonicS();
  do {
    std::unique_ptr<Talk> talk = makeTalk(instrument);
    Status status = talk->open();
    if (status) {
      shared->noteOpen(talk->identity());
      double dueS = monotonicS();
      while (status && shared->wait(dueS)) {
        std::vector<Answer> answers(instrument.readings.size());
        const double beganS = monotonicS();
        status = talk->ask(answers);
        if (!status) break;
        pause = 0;
        shared->note(answers, talk->clockOffsetS());
        // A round that took too long is a gap, not a burst.
        dueS = talk->pacesItself()
                   ? monotonicS()
                   : std::max(dueS + instrument.intervalS, std::min(monotonicS(), beganS + instrument.intervalS));
      }
    }
    talk.reset();
    if (!status) shared->noteLoss(status.error().message);
    shared->noteRest();
    nextS = monotonicS() + kPausesS[std::min(pause++, kPausesS.size() - 1)];
    if (!shared->wait(nextS)) pause = 0;
  } while (shared->waitWhileResting());
  const std::lock_guard lock(shared->mutex);
  shared->hasEnded = true;
  shared->changed.notify_all();
}

Sweep InstrumentSource::sweep() {
  const double nowS = bootTimeS();
  const std::lock_guard lock(m_shared->mutex);
  const double delayS = m_shared->instrument.delayS;
  Sweep sweep;
  sweep.timeS = nowS;
  if (delayS > 0) {
    // Of the sweep that lies the delay back.
    if (m_sweptS.size() < kMostWaitingSweeps) m_sweptS.push_back(nowS);
    // A delay of whole sweeps must not hang on a millisecond.
    const double leewayS = m_sweptS.size() > 1 ? kLeeway * (nowS - m_sweptS[m_sweptS.size() - 2]) : 0;
    const auto due = std::upper_bound(m_sweptS.begin(), m_sweptS.end(), nowS - delayS + leewayS);
    if (due == m_sweptS.begin()) return {nowS, {}, false};
    sweep.timeS = *(due - 1);
    m_sweptS.erase(m_sweptS.begin(), due);
  }
  for (size_t i = 0; i < m_info.readings.size(); ++i)
    sweep.values.push_back(m_shared->state.isOpen ? m_shared->valueAt(i, sweep.timeS) : kMissing);
  return sweep;
}

std::string InstrumentSource::whyMissing(size_t reading) const {
  const std::lock_guard lock(m_shared->mutex);
  const InstrumentState& state = m_shared->state;
  if (!state.isOpen && !state.error.empty()) return state.error;
  if (reading < state.last.size() && state.last[reading].isFailure()) return state.last[reading].fault;
  const double lastS = reading < state.last.size() ? state.last[reading].atS : kMissing;
  if (!std::isfinite(lastS)) return "it has not answered yet";
  return fmt::format("nothing has come for {:.0f} s", bootTimeS() - lastS);
}

bool InstrumentSource::isGone() const {
  const std::lock_guard lock(m_shared->mutex);
  return !m_shared->state.isOpen && (m_shared->wasOpen || m_shared->state.failures > 0);
}

std::vector<std::string> InstrumentSource::takeTold() {
  const std::lock_guard lock(m_shared->mutex);
  return std::exchange(m_shared->told, {});
}

void InstrumentSource::rest(bool isResting) {
  const std::lock_guard lock(m_shared->mutex);
  m_shared->isResting = isResting;
  m_shared->changed.notify_all();
}

const Instrument& InstrumentSource::instrument() const { return m_shared->instrument; }

InstrumentState InstrumentSource::state() const {
  const std::lock_guard lock(m_shared->mutex);
  return m_shared->state;
}

void InstrumentSource::waitForFirst(double patienceS) const {
  std::unique_lock lock(m_shared->mutex);
  m_shared->changed.wait_for(lock, seconds(patienceS),
                             [this] { return m_shared->state.answers > 0 || m_shared->state.failures > 0; });
}

}  // namespace ash
