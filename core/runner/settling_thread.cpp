// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/settling_thread.h"

#include <utility>

#include "system/clock.h"

namespace ash {
namespace {
constexpr double kRestOfFits = 20;
}

SettlingThread::~SettlingThread() {
  {
    const std::lock_guard lock(m_mutex);
    m_isEnding = true;
  }
  m_isAsked.notify_one();
  m_thread.join();
}

bool SettlingThread::mayAsk() const {
  const std::lock_guard lock(m_mutex);
  return !m_isBusy && monotonicS() >= m_againAtS;
}

void SettlingThread::ask(std::function<SettlingVerdict()> fit) {
  {
    const std::lock_guard lock(m_mutex);
    m_fit = std::move(fit);
    m_verdict.reset();
    m_isBusy = m_isWanted = true;
  }
  m_isAsked.notify_one();
}

std::optional<SettlingVerdict> SettlingThread::take() {
  const std::lock_guard lock(m_mutex);
  return std::exchange(m_verdict, std::nullopt);
}

void SettlingThread::forget() {
  const std::lock_guard lock(m_mutex);
  m_isWanted = false;
  m_verdict.reset();
}

void SettlingThread::work() {
  std::unique_lock lock(m_mutex);
  for (;;) {
    m_isAsked.wait(lock, [this] { return m_isEnding || m_fit; });
    if (m_isEnding) return;
    const auto fit = std::exchange(m_fit, nullptr);
    lock.unlock();
    const double startS = monotonicS();
    auto verdict = fit();
    const double tookS = monotonicS() - startS;
    lock.lock();
    if (m_isWanted) m_verdict = std::move(verdict);
    m_againAtS = startS + tookS + kRestOfFits * tookS;
    m_isBusy = false;
  }
}

}  // namespace ash
