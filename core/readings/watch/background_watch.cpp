// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/watch/background_watch.h"

#include <chrono>
#include <condition_variable>
#include <mutex>
#include <thread>
#include <utility>

#include "readings/watch/machine_watch.h"

namespace ash {
namespace {
constexpr auto kLookEvery = std::chrono::milliseconds(500);
constexpr auto kPatience = std::chrono::seconds(2);
}  // namespace

/// Shared with the thread, which may stay behind when a device hangs.
struct BackgroundWatch::State {
  State(const std::string& root, const Json& asked) : watch(root, asked) {}
  MachineWatch watch;  // the thread's own
  std::mutex mutex;
  std::condition_variable changed;
  std::vector<Event> events;  // guarded, as are the flags
  bool isOver = false;
  bool isDone = false;
};

BackgroundWatch::BackgroundWatch(const std::string& root, const Json& asked)
    : m_state(std::make_shared<State>(root, asked)) {
  std::thread(watch, m_state).detach();
}

BackgroundWatch::~BackgroundWatch() { take(true); }

void BackgroundWatch::watch(const std::shared_ptr<State>& state) {
  state->watch.begin();
  std::unique_lock lock(state->mutex);
  while (!state->isDone) {
    state->changed.wait_for(lock, kLookEvery, [&] { return state->isOver; });
    const bool isLast = state->isOver;
    lock.unlock();
    std::vector<Event> found = state->watch.take(isLast);
    lock.lock();
    for (Event& event : found) state->events.push_back(std::move(event));
    state->isDone = isLast;
  }
  state->changed.notify_all();
}

std::vector<Event> BackgroundWatch::take(bool isLast) {
  std::unique_lock lock(m_state->mutex);
  if (isLast) {
    m_state->isOver = true;
    m_state->changed.notify_all();
    m_state->changed.wait_for(lock, kPatience, [this] { return m_state->isDone; });
  }
  return std::exchange(m_state->events, {});
}

}  // namespace ash
