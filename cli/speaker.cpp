// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/speaker.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <condition_variable>
#include <csignal>
#include <deque>
#include <mutex>
#include <thread>

namespace ash::cli {
namespace {

constexpr size_t kMostKeptB = 256 * 1024;
constexpr auto kGoodbye = std::chrono::milliseconds(500);

// False when nobody will ever read it.
bool writeWhole(int descriptor, const std::string& text) {
  for (size_t done = 0; done < text.size();) {
    const ssize_t length = write(descriptor, text.data() + done, text.size() - done);
    if (length < 0 && errno == EAGAIN) {
      // Somebody else made the stream non-blocking.
      std::this_thread::sleep_for(std::chrono::milliseconds(20));
      continue;
    }
    if (length < 0 && errno == EINTR) continue;
    if (length <= 0) return false;
    done += static_cast<size_t>(length);
  }
  return true;
}

}  // namespace

/// Shared with the thread, which is left behind when the descriptor takes nothing.
struct Speaker::State {
  ~State() {
    if (descriptor >= 0) close(descriptor);
  }
  int descriptor = -1;
  std::mutex mutex;
  std::condition_variable changed;
  // Guarded by `mutex`.
  std::deque<std::string> queue;
  size_t queuedB = 0;
  bool isOver = false, isGone = false, isWriting = false;
};

Speaker::Speaker(int descriptor) : m_state(std::make_shared<State>()) {
  std::signal(SIGPIPE, SIG_IGN);
  m_state->descriptor = fcntl(descriptor, F_DUPFD_CLOEXEC, 3);
  std::thread(work, m_state).detach();
}

Speaker::~Speaker() {
  drain();
  const std::lock_guard lock(m_state->mutex);
  m_state->isOver = true;
  m_state->changed.notify_all();
}

void Speaker::drain() {
  std::unique_lock lock(m_state->mutex);
  m_state->changed.wait_for(lock, kGoodbye,
                            [this] { return m_state->isGone || (m_state->queue.empty() && !m_state->isWriting); });
}

void Speaker::say(std::string text) {
  const std::lock_guard lock(m_state->mutex);
  if (m_state->isGone) return;
  m_state->queuedB += text.size();
  m_state->queue.push_back(std::move(text));
  while (m_state->queuedB > kMostKeptB) {
    m_state->queuedB -= m_state->queue.front().size();
    m_state->queue.pop_front();
  }
  m_state->changed.notify_all();
}

void Speaker::work(const std::shared_ptr<State>& state) {
  std::unique_lock lock(state->mutex);
  while (true) {
    state->changed.wait(lock, [&] { return state->isOver || !state->queue.empty(); });
    if (state->queue.empty()) break;
    const std::string text = std::move(state->queue.front());
    state->queue.pop_front();
    state->queuedB -= text.size();
    state->isWriting = true;
    lock.unlock();
    const bool isHeard = writeWhole(state->descriptor, text);
    lock.lock();
    state->isWriting = false;
    state->changed.notify_all();
    if (!isHeard) break;
  }
  state->queue.clear();
  state->isGone = true;
  state->changed.notify_all();
}

}  // namespace ash::cli
