// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/desktop_link.h"

#include <fcntl.h>
#include <unistd.h>

#include <chrono>
#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

#include "bus/owned_bus.h"

namespace ash {
namespace {

constexpr uint64_t kPatienceUs = 800'000;
constexpr auto kGoodbye = std::chrono::seconds(1);
constexpr const char* kName = "Ash Gauge";

/// What is held and said; lives on the link's thread.
class Desktop {
 public:
  ~Desktop() {
    if (m_sleepLock >= 0) close(m_sleepLock);
    if (m_screenCookie == 0) return;
    sd_bus_call_method(session(), "org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver",
                       "org.freedesktop.ScreenSaver", "UnInhibit", nullptr, nullptr, "u", m_screenCookie);
  }

  void keepAwake(const std::string& why) {
    holdSleep(why);
    holdScreen(why);
  }

  void tell(const std::string& title, const std::string& text, bool isUrgent) {
    if (session() == nullptr) return;
    // Hints: the urgency, 1 usual, 2 stays. The body takes a little markup, so its signs are written out.
    std::string plain;
    for (const char c : text) plain += c == '&' ? "&amp;" : c == '<' ? "&lt;" : c == '>' ? "&gt;" : std::string(1, c);
    sd_bus_call_method(session(), "org.freedesktop.Notifications", "/org/freedesktop/Notifications",
                       "org.freedesktop.Notifications", "Notify", nullptr, nullptr, "susssasa{sv}i", kName, uint32_t{0},
                       "", title.c_str(), plain.c_str(), 0, 1, "urgency", "y", isUrgent ? 2 : 1, int32_t{-1});
  }

 private:
  static OwnedBus opened(WhichBus which) {
    auto bus = openBus(which, kPatienceUs);
    return bus ? std::move(*bus) : nullptr;
  }
  sd_bus* session() {
    if (!m_session) m_session = opened(WhichBus::Session);
    return m_session.get();
  }

  // A file that keeps the machine awake as long as it is open.
  void holdSleep(const std::string& why) {
    const OwnedBus system = opened(WhichBus::System);
    sd_bus_message* raw = nullptr;
    if (!system || sd_bus_call_method(system.get(), "org.freedesktop.login1", "/org/freedesktop/login1",
                                      "org.freedesktop.login1.Manager", "Inhibit", nullptr, &raw, "ssss", "sleep:idle",
                                      kName, why.c_str(), "block") < 0)
      return;
    const OwnedBusMessage answer(raw);
    int file = -1;
    if (sd_bus_message_read(answer.get(), "h", &file) >= 0) m_sleepLock = fcntl(file, F_DUPFD_CLOEXEC, 3);
  }

  // Held as long as this connection stands; a number takes it back before.
  void holdScreen(const std::string& why) {
    sd_bus_message* raw = nullptr;
    if (session() == nullptr ||
        sd_bus_call_method(session(), "org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver",
                           "org.freedesktop.ScreenSaver", "Inhibit", nullptr, &raw, "ss", kName, why.c_str()) < 0)
      return;
    const OwnedBusMessage answer(raw);
    sd_bus_message_read(answer.get(), "u", &m_screenCookie);
  }

  OwnedBus m_session;
  int m_sleepLock = -1;
  uint32_t m_screenCookie = 0;
};

}  // namespace

/// Shared with the thread, which is left behind when the desktop never answers.
struct DesktopLink::Thread {
  struct State {
    std::mutex mutex;
    std::condition_variable changed;
    std::deque<std::function<void(Desktop&)>> wishes;
    bool isOver = false;
    bool isGone = false;
  };
  std::shared_ptr<State> state = std::make_shared<State>();

  Thread() {
    std::thread([state = state] { work(*state); }).detach();
  }
  ~Thread() {
    std::unique_lock lock(state->mutex);
    state->isOver = true;
    state->changed.notify_all();
    state->changed.wait_for(lock, kGoodbye, [this] { return state->isGone; });
  }

  void ask(std::function<void(Desktop&)> wish) {
    const std::lock_guard lock(state->mutex);
    state->wishes.push_back(std::move(wish));
    state->changed.notify_all();
  }

  static void work(State& state) {
    {
      Desktop desktop;
      std::unique_lock lock(state.mutex);
      while (true) {
        state.changed.wait(lock, [&] { return state.isOver || !state.wishes.empty(); });
        if (state.wishes.empty()) break;
        const auto wish = std::move(state.wishes.front());
        state.wishes.pop_front();
        lock.unlock();
        wish(desktop);
        lock.lock();
      }
    }
    const std::lock_guard lock(state.mutex);
    state.isGone = true;
    state.changed.notify_all();
  }
};

DesktopLink::DesktopLink() : m_thread(std::make_unique<Thread>()) {}
DesktopLink::~DesktopLink() = default;

void DesktopLink::keepAwake(const std::string& why) {
  m_thread->ask([why](Desktop& desktop) { desktop.keepAwake(why); });
}

void DesktopLink::tell(const std::string& title, const std::string& text, bool isUrgent) {
  m_thread->ask([=](Desktop& desktop) { desktop.tell(title, text, isUrgent); });
}

}  // namespace ash
