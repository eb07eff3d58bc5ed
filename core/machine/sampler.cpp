// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/sampler.h"

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

#include "system/clock.h"

namespace ash {
namespace {
using Clock = std::chrono::steady_clock;
constexpr size_t kMostWaitingTicks = 4096;
constexpr double kLeastBlockS = 0.25;
constexpr int kLeastLooks = 4;  // a machine that stood still for a moment is no source that blocks
constexpr auto kGoodbye = std::chrono::milliseconds(500);

Clock::duration duration(double seconds) {
  return std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(seconds));
}
}  // namespace

/// Shared with the threads, which may outlive the sampler when a source blocks for ever.
struct Sampler::State {
  // Constant after construction.
  std::vector<std::shared_ptr<Source>> sources;
  double intervalS = 0;
  // Guarded by `mutex`.
  std::mutex mutex;
  std::condition_variable changed;
  bool isOver = false;
  int threadCount = 0;
  long long generation = 0;   // of the thread that sweeps all sources that answer
  std::vector<int> together;  // those sources
  int inHand = -1;            // the source that this thread reads just now
  double inHandSinceS = 0;
  int looksAtIt = 0;  // how often next() has found it in hand
  Tick partial;       // what it has read in this round
  std::deque<Tick> ticks;
  std::vector<int> blocked;
  long long lost = 0;

  void push(Tick tick) {
    std::erase_if(tick.sweeps, [](const auto& one) { return one.second.values.empty(); });  // nothing to tell yet
    if (tick.sweeps.empty()) return;
    if (ticks.size() < kMostWaitingTicks)
      ticks.push_back(std::move(tick));
    else
      ++lost;
    changed.notify_all();
  }

  double intervalOf(int source) const {
    return std::max(intervalS, sources[static_cast<size_t>(source)]->info().paceS);
  }

  // Waits for the next beat. After a stall (or a sleep of the machine) the beat goes on from now: missed beats are a
  // gap, not a burst.
  bool waitForBeat(std::unique_lock<std::mutex>& lock, Clock::time_point& due, double everyS) {
    due += duration(everyS);
    if (Clock::now() > due + duration(everyS)) due = Clock::now();
    while (!isOver && changed.wait_until(lock, due) != std::cv_status::timeout) {
    }
    return !isOver;
  }

  void leave() {
    --threadCount;
    changed.notify_all();
  }
};

Sampler::Sampler(std::vector<std::shared_ptr<Source>> sources, double intervalS) : m_state(std::make_shared<State>()) {
  m_state->sources = std::move(sources);
  m_state->intervalS = intervalS;
  std::vector<int> apart;
  for (int s = 0; s < static_cast<int>(m_state->sources.size()); ++s)
    (m_state->sources[static_cast<size_t>(s)]->info().paceS > 0 ? apart : m_state->together).push_back(s);
  m_state->threadCount = 1 + static_cast<int>(apart.size());
  for (const int source : apart) std::thread(sweepOne, m_state, source, true).detach();
  std::thread(sweepAll, m_state, 0LL).detach();
}

Sampler::~Sampler() {
  std::unique_lock lock(m_state->mutex);
  m_state->isOver = true;
  m_state->changed.notify_all();
  m_state->changed.wait_for(lock, kGoodbye, [this] { return m_state->threadCount == 0; });
}

void Sampler::sweepAll(const std::shared_ptr<State>& state, long long generation) {
  auto due = Clock::now();
  std::unique_lock lock(state->mutex);
  int leftWith = -1;  // a source that blocked so long that this thread is now its own
  do {
    const std::vector<int> round = state->together;
    for (const int s : round) {
      state->inHand = s;
      state->inHandSinceS = monotonicS();
      state->looksAtIt = 0;
      lock.unlock();
      Sweep sweep = state->sources[static_cast<size_t>(s)]->sweep();
      lock.lock();
      if (state->generation != generation) {
        leftWith = s;
        state->push({{{s, std::move(sweep)}}});
        break;
      }
      state->inHand = -1;
      state->partial.sweeps.emplace_back(s, std::move(sweep));
    }
    if (leftWith >= 0) break;
    state->push(std::exchange(state->partial, {}));
  } while (state->waitForBeat(lock, due, state->intervalS));
  lock.unlock();
  if (leftWith >= 0) return sweepOne(state, leftWith, false);
  lock.lock();
  state->leave();
}

void Sampler::sweepOne(const std::shared_ptr<State>& state, int source, bool beginsAtOnce) {
  auto due = Clock::now();
  const double everyS = state->intervalOf(source);
  std::unique_lock lock(state->mutex);
  while (!state->isOver && (std::exchange(beginsAtOnce, false) || state->waitForBeat(lock, due, everyS))) {
    lock.unlock();
    Sweep sweep = state->sources[static_cast<size_t>(source)]->sweep();
    lock.lock();
    state->push({{{source, std::move(sweep)}}});
  }
  state->leave();
}

// Called with the mutex held: the thread that reads all sources stays with this one, the others get a new thread.
void Sampler::passOver(int source) {
  State& state = *m_state;
  std::erase(state.together, source);
  state.blocked.push_back(source);
  state.inHand = -1;
  state.push(std::exchange(state.partial, {}));
  ++state.threadCount;
  std::thread(sweepAll, m_state, ++state.generation).detach();
}

std::optional<Tick> Sampler::next(double patienceS) {
  State& state = *m_state;
  std::unique_lock lock(state.mutex);
  state.changed.wait_for(lock, duration(patienceS), [&state] { return !state.ticks.empty(); });
  const double mostS = std::max(kLeastBlockS, state.intervalS);
  const bool isLong = state.inHand >= 0 && ++state.looksAtIt >= kLeastLooks;
  if (isLong && monotonicS() - state.inHandSinceS > mostS) passOver(state.inHand);
  if (state.ticks.empty()) return std::nullopt;
  Tick tick = std::move(state.ticks.front());
  state.ticks.pop_front();
  return tick;
}

long long Sampler::lostTicks() const {
  const std::lock_guard lock(m_state->mutex);
  return m_state->lost;
}

std::vector<int> Sampler::takeBlocked() {
  const std::lock_guard lock(m_state->mutex);
  return std::exchange(m_state->blocked, {});
}

}  // namespace ash
