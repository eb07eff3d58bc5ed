// SPDX-License-Identifier: GPL-3.0-or-later
// Signals that ask to end, taken on a thread of their own so that the work ends in order.
#pragma once

#include <functional>
#include <thread>

namespace ash::cli {

/// Blocks SIGINT, SIGTERM and SIGHUP for this thread and those it starts later: call before any other thread begins.
/// `onSignal` runs on the watching thread.
class SignalWatch {
 public:
  explicit SignalWatch(std::function<void(int)> onSignal);
  SignalWatch(const SignalWatch&) = delete;
  SignalWatch& operator=(const SignalWatch&) = delete;

 private:
  std::jthread m_thread;
};

}  // namespace ash::cli
