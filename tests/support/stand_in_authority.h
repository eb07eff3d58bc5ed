// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in for polkit: says yes or no, or nothing, and remembers what it was asked.
#pragma once

#include <systemd/sd-bus.h>

#include <atomic>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

namespace ash::tests {

class StandInAuthority {
 public:
  enum class Says { Yes, No, Nothing };
  struct Question {
    std::string subject, caller, action, knob;
    bool mayAskThePerson = false;
  };

  /// On the system bus that is there now.
  explicit StandInAuthority(Says says) : m_says(says) {
    static const sd_bus_vtable kMethods[] = {
        SD_BUS_VTABLE_START(0),
        SD_BUS_METHOD("CheckAuthorization", "(sa{sv})sa{ss}us", "(bba{ss})", check, SD_BUS_VTABLE_UNPRIVILEGED),
        SD_BUS_METHOD("CancelCheckAuthorization", "s", "", cancel, SD_BUS_VTABLE_UNPRIVILEGED), SD_BUS_VTABLE_END};
    if (sd_bus_open_system(&m_bus) < 0) return;
    sd_bus_add_object_vtable(m_bus, nullptr, "/org/freedesktop/PolicyKit1/Authority",
                             "org.freedesktop.PolicyKit1.Authority", kMethods, this);
    m_isUp = sd_bus_request_name(m_bus, "org.freedesktop.PolicyKit1", 0) >= 0;
    m_thread = std::thread([this] {
      while (!m_isOver) {
        while (sd_bus_process(m_bus, nullptr) > 0) {
        }
        sd_bus_wait(m_bus, 20'000);
      }
    });
  }
  ~StandInAuthority() {
    m_isOver = true;
    if (m_thread.joinable()) m_thread.join();
    sd_bus_flush_close_unref(m_bus);
  }
  StandInAuthority(const StandInAuthority&) = delete;
  StandInAuthority& operator=(const StandInAuthority&) = delete;

  bool isUp() const { return m_isUp; }
  void say(Says says) { m_says = says; }
  std::vector<Question> asked() const {
    const std::lock_guard lock(m_mutex);
    return m_asked;
  }
  int cancelled() const { return m_cancelled; }

 private:
  static int check(sd_bus_message* call, void* self, sd_bus_error*) {
    auto* authority = static_cast<StandInAuthority*>(self);
    const char *subject = "", *name = "", *caller = "", *action = "", *key = "", *knob = "", *word = "";
    uint32_t flags = 0;
    sd_bus_message_enter_container(call, 'r', "sa{sv}");
    sd_bus_message_read(call, "sa{sv}", &subject, 1, &name, "s", &caller);
    sd_bus_message_exit_container(call);
    if (const int read = sd_bus_message_read(call, "sa{ss}us", &action, 1, &key, &knob, &flags, &word); read < 0)
      return read;
    {
      const std::lock_guard lock(authority->m_mutex);
      authority->m_asked.push_back({subject, caller, action, knob, flags == 1});
    }
    if (authority->m_says == Says::Nothing) return 1;
    return sd_bus_reply_method_return(call, "(bba{ss})", authority->m_says == Says::Yes ? 1 : 0, 0, 0);
  }
  static int cancel(sd_bus_message* call, void* self, sd_bus_error*) {
    ++static_cast<StandInAuthority*>(self)->m_cancelled;
    return sd_bus_reply_method_return(call, "");
  }

  sd_bus* m_bus = nullptr;
  std::atomic<Says> m_says;
  std::atomic<bool> m_isUp{false}, m_isOver{false};
  std::atomic<int> m_cancelled{0};
  mutable std::mutex m_mutex;
  std::vector<Question> m_asked;
  std::thread m_thread;
};

}  // namespace ash::tests
