// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/signals.h"

#include <csignal>
#include <ctime>

namespace ash::cli {
namespace {

sigset_t endingSignals() {
  sigset_t set;
  sigemptyset(&set);
  for (const int signal : {SIGINT, SIGTERM, SIGHUP}) sigaddset(&set, signal);
  return set;
}

}  // namespace

SignalWatch::SignalWatch(std::function<void(int)> onSignal) {
  const sigset_t set = endingSignals();
  pthread_sigmask(SIG_BLOCK, &set, nullptr);
  m_thread = std::jthread([set, onSignal = std::move(onSignal)](std::stop_token stop) {
    const timespec patience{0, 50'000'000};
    while (!stop.stop_requested()) {
      const int signal = sigtimedwait(&set, nullptr, &patience);
      if (signal > 0) onSignal(signal);
    }
  });
}

}  // namespace ash::cli
