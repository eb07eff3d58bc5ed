// SPDX-License-Identifier: GPL-3.0-or-later
// A bus of its own with a stand-in for a desktop's services, which remembers what it was asked for.
#pragma once

#include <systemd/sd-bus.h>
#include <unistd.h>

#include <atomic>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

#include "tests/support/private_bus.h"

namespace ash::tests {

class StandInDesktop {
 public:
  StandInDesktop() { serve(); }
  ~StandInDesktop() {
    m_isOver = true;
    if (m_thread.joinable()) m_thread.join();
    if (m_sleepPipe[0] >= 0) close(m_sleepPipe[0]);
  }
  StandInDesktop(const StandInDesktop&) = delete;
  StandInDesktop& operator=(const StandInDesktop&) = delete;

  bool isUp() const { return m_isUp; }
  /// "sleep:idle/block", "screen", "screen freed", "notice: title: text (urgency)".
  std::vector<std::string> heard() const {
    const std::lock_guard lock(m_mutex);
    return m_heard;
  }
  /// True while somebody holds the lock that keeps the machine awake.
  bool isKeptAwake() const {
    if (m_sleepPipe[0] < 0) return false;
    char byte;
    return read(m_sleepPipe[0], &byte, 1) != 0;  // end of file: the other end is closed everywhere
  }
  /// Answers nothing any more, as a desktop that hangs.
  std::atomic<bool> isDeaf{false};

 private:
  void note(const std::string& text) {
    const std::lock_guard lock(m_mutex);
    m_heard.push_back(text);
  }

  static int inhibitSleep(sd_bus_message* message, void* self, sd_bus_error*) {
    auto* desktop = static_cast<StandInDesktop*>(self);
    const char *what, *who, *why, *mode;
    sd_bus_message_read(message, "ssss", &what, &who, &why, &mode);
    desktop->note(std::string(what) + "/" + mode + "/" + who);
    if (pipe2(desktop->m_sleepPipe, O_NONBLOCK | O_CLOEXEC) != 0) return -1;
    const int result = sd_bus_reply_method_return(message, "h", desktop->m_sleepPipe[1]);
    sd_bus_flush(sd_bus_message_get_bus(message));
    close(desktop->m_sleepPipe[1]);
    return result;
  }
  static int inhibitScreen(sd_bus_message* message, void* self, sd_bus_error*) {
    static_cast<StandInDesktop*>(self)->note("screen");
    return sd_bus_reply_method_return(message, "u", 77u);
  }
  static int freeScreen(sd_bus_message* message, void* self, sd_bus_error*) {
    uint32_t cookie = 0;
    sd_bus_message_read(message, "u", &cookie);
    static_cast<StandInDesktop*>(self)->note("screen freed " + std::to_string(cookie));
    return sd_bus_reply_method_return(message, "");
  }
  static int notify(sd_bus_message* message, void* self, sd_bus_error*) {
    const char *app, *icon, *title, *text;
    uint32_t replaced;
    sd_bus_message_read(message, "susss", &app, &replaced, &icon, &title, &text);
    sd_bus_message_skip(message, "as");
    uint8_t urgency = 0;
    sd_bus_message_enter_container(message, 'a', "{sv}");
    if (sd_bus_message_enter_container(message, 'e', "sv") > 0) {
      const char* key;
      sd_bus_message_read(message, "s", &key);
      sd_bus_message_read(message, "v", "y", &urgency);
    }
    static_cast<StandInDesktop*>(self)->note(std::string("notice: ") + title + ": " + text + " (" +
                                             std::to_string(urgency) + ")");
    return sd_bus_reply_method_return(message, "u", 1u);
  }

  void serve() {
    static const sd_bus_vtable kLogin[] = {
        SD_BUS_VTABLE_START(0), SD_BUS_METHOD("Inhibit", "ssss", "h", inhibitSleep, SD_BUS_VTABLE_UNPRIVILEGED),
        SD_BUS_VTABLE_END};
    static const sd_bus_vtable kScreen[] = {
        SD_BUS_VTABLE_START(0), SD_BUS_METHOD("Inhibit", "ss", "u", inhibitScreen, SD_BUS_VTABLE_UNPRIVILEGED),
        SD_BUS_METHOD("UnInhibit", "u", "", freeScreen, SD_BUS_VTABLE_UNPRIVILEGED), SD_BUS_VTABLE_END};
    static const sd_bus_vtable kNotices[] = {
        SD_BUS_VTABLE_START(0), SD_BUS_METHOD("Notify", "susssasa{sv}i", "u", notify, SD_BUS_VTABLE_UNPRIVILEGED),
        SD_BUS_VTABLE_END};
    sd_bus* bus = nullptr;
    if (sd_bus_open_user(&bus) < 0) return;
    sd_bus_add_object_vtable(bus, nullptr, "/org/freedesktop/login1", "org.freedesktop.login1.Manager", kLogin, this);
    sd_bus_add_object_vtable(bus, nullptr, "/org/freedesktop/ScreenSaver", "org.freedesktop.ScreenSaver", kScreen,
                             this);
    sd_bus_add_object_vtable(bus, nullptr, "/org/freedesktop/Notifications", "org.freedesktop.Notifications", kNotices,
                             this);
    m_isUp = sd_bus_request_name(bus, "org.freedesktop.login1", 0) >= 0 &&
             sd_bus_request_name(bus, "org.freedesktop.ScreenSaver", 0) >= 0 &&
             sd_bus_request_name(bus, "org.freedesktop.Notifications", 0) >= 0;
    m_thread = std::thread([this, bus] {
      while (!m_isOver) {
        while (!isDeaf && sd_bus_process(bus, nullptr) > 0) {
        }
        sd_bus_wait(bus, 20'000);
      }
      sd_bus_close_unref(bus);
    });
  }

  PrivateBus m_bus;
  std::atomic<bool> m_isUp{false}, m_isOver{false};
  mutable std::mutex m_mutex;
  std::vector<std::string> m_heard;
  int m_sleepPipe[2] = {-1, -1};
  std::thread m_thread;
};

}  // namespace ash::tests
