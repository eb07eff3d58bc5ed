// SPDX-License-Identifier: GPL-3.0-or-later
// Work that may never come back, such as a read from a device whose driver hangs.
#pragma once

#include <chrono>
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>
#include <utility>

namespace ash {

/// Does the work on a thread of its own and gives its result, or nothing after `patienceS` seconds. The thread is then
/// left behind with all that the work has captured, so that must be its own (copies, shared pointers).
template <typename T>
std::optional<T> within(double patienceS, std::function<T()> work) {
  struct State {
    std::mutex mutex;
    std::condition_variable isDone;
    std::optional<T> result;
  };
  auto state = std::make_shared<State>();
  std::thread([state, work = std::move(work)] {
    T result = work();
    const std::lock_guard lock(state->mutex);
    state->result = std::move(result);
    state->isDone.notify_one();
  }).detach();
  std::unique_lock lock(state->mutex);
  state->isDone.wait_for(lock, std::chrono::duration<double>(patienceS), [&] { return state->result.has_value(); });
  return std::move(state->result);
}

}  // namespace ash
