// SPDX-License-Identifier: GPL-3.0-or-later
// One fit of settling at a time on a thread of its own: coarse readings can take a second of it, and the recorder,
// which watches the stop rules and gives its load signs of life, waits for none.
#pragma once

#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

#include "analysis/warm_up/settling.h"

namespace ash {

/// Use from one thread.
class SettlingThread {
 public:
  SettlingThread() : m_thread([this] { work(); }) {}
  /// Waits for the fit in hand.
  ~SettlingThread();
  SettlingThread(const SettlingThread&) = delete;
  SettlingThread& operator=(const SettlingThread&) = delete;

  /// False while one is at work, and for twenty times as long after it as it took: fitting costs the machine under test
  /// 5 % of one core at most.
  bool mayAsk() const;
  /// Begins one; `fit` has copies of all it reads.
  void ask(std::function<SettlingVerdict()> fit);
  /// What came of it, once.
  std::optional<SettlingVerdict> take();
  /// Nobody wants to know of what is at work any more.
  void forget();

 private:
  void work();

  mutable std::mutex m_mutex;
  std::condition_variable m_isAsked;
  std::function<SettlingVerdict()> m_fit;  // asked, not yet begun
  std::optional<SettlingVerdict> m_verdict;
  bool m_isBusy = false, m_isWanted = false, m_isEnding = false;
  double m_againAtS = 0;  // CLOCK_MONOTONIC
  std::thread m_thread;   // last: it uses all the others
};

}  // namespace ash
