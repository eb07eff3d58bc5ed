// SPDX-License-Identifier: GPL-3.0-or-later
// What a screen reader gets of a program: its accessibility tree, over a real accessibility bus (AT-SPI 2), with a
// display and buses of the test's own.
#pragma once

#include <signal.h>
#include <sys/wait.h>
#include <systemd/sd-bus.h>
#include <unistd.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "tests/support/private_bus.h"

namespace ash::tests {

/// A child that goes with its owner.
class Child {
 public:
  explicit Child(const std::vector<std::string>& line) {
    m_pid = fork();
    if (m_pid != 0) return;
    std::vector<char*> raw;
    for (const std::string& word : line) raw.push_back(const_cast<char*>(word.c_str()));
    raw.push_back(nullptr);
    if (freopen("/dev/null", "w", stdout) == nullptr || freopen("/dev/null", "w", stderr) == nullptr) _exit(126);
    execvp(raw[0], raw.data());
    _exit(127);
  }
  ~Child() {
    kill(m_pid, SIGTERM);
    waitpid(m_pid, nullptr, 0);
  }
  Child(const Child&) = delete;
  Child& operator=(const Child&) = delete;

 private:
  pid_t m_pid = -1;
};

/// A display of so many pixels that nobody sees; its number is taken by itself.
class UnseenDisplay {
 public:
  explicit UnseenDisplay(const std::string& size) {
    int ends[2];
    if (pipe(ends) != 0) return;
    m_server = fork();
    if (m_server == 0) {
      const std::string fd = std::to_string(ends[1]);
      execlp("Xvfb", "Xvfb", "-displayfd", fd.c_str(), "-screen", "0", (size + "x24").c_str(), "-nolisten", "tcp",
             nullptr);
      _exit(127);
    }
    close(ends[1]);
    m_name = firstLineOf(ends[0]);
    close(ends[0]);
    if (!m_name.empty()) setenv("DISPLAY", (":" + m_name).c_str(), 1);
  }
  ~UnseenDisplay() {
    kill(m_server, SIGTERM);
    waitpid(m_server, nullptr, 0);
    unsetenv("DISPLAY");
  }
  UnseenDisplay(const UnseenDisplay&) = delete;
  UnseenDisplay& operator=(const UnseenDisplay&) = delete;
  bool isUp() const { return !m_name.empty(); }

 private:
  pid_t m_server = -1;
  std::string m_name;
};

/// One thing on a screen, as it is told (org.a11y.atspi.Accessible).
struct Told {
  std::string bus, path, role, name, description;
  uint64_t states = 0;
  // AtspiStateType
  bool isShowing() const { return (states >> 25 & 1) != 0; }
  bool isChecked() const { return (states >> 4 & 1) != 0; }
  bool canBeFocused() const { return (states >> 11 & 1) != 0; }
};

class AccessibilityBus {
 public:
  AccessibilityBus() : m_launcher({"/usr/libexec/at-spi-bus-launcher", "--launch-immediately"}) {
    for (int tries = 0; tries < 200 && m_bus == nullptr; ++tries) {
      connect();
      if (m_bus == nullptr) std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
  }
  ~AccessibilityBus() { sd_bus_flush_close_unref(m_bus); }
  AccessibilityBus(const AccessibilityBus&) = delete;
  AccessibilityBus& operator=(const AccessibilityBus&) = delete;
  bool isUp() const { return m_bus != nullptr; }

  /// The first program that has made itself known.
  std::optional<Told> program(double patienceS) {
    for (double waited = 0; waited < patienceS; waited += 0.1) {
      const auto all = childrenOf({"org.a11y.atspi.Registry", "/org/a11y/atspi/accessible/root", {}, {}, {}});
      if (!all.empty()) return all.front();
      std::this_thread::sleep_for(std::chrono::milliseconds(100));
    }
    return std::nullopt;
  }

  std::vector<Told> childrenOf(const Told& of) {
    std::vector<Told> all;
    sd_bus_message* reply = nullptr;
    if (sd_bus_call_method(m_bus, of.bus.c_str(), of.path.c_str(), kAccessible, "GetChildren", nullptr, &reply, "") < 0)
      return all;
    sd_bus_message_enter_container(reply, 'a', "(so)");
    const char *bus = nullptr, *path = nullptr;
    while (sd_bus_message_read(reply, "(so)", &bus, &path) > 0) all.push_back({bus, path, {}, {}, {}});
    sd_bus_message_unref(reply);
    for (Told& one : all) fill(one);
    return all;
  }

  /// Everything that shows, from the outside in.
  std::vector<Told> showing(const Told& root) {
    std::vector<Told> all;
    collect(root, 0, all);
    return all;
  }

  /// What a press on it does.
  bool press(const Told& one) {
    sd_bus_message* reply = nullptr;
    const int code = sd_bus_call_method(m_bus, one.bus.c_str(), one.path.c_str(), "org.a11y.atspi.Action", "DoAction",
                                        nullptr, &reply, "i", 0);
    int isDone = 0;
    if (code >= 0) sd_bus_message_read(reply, "b", &isDone);
    sd_bus_message_unref(reply);
    return isDone != 0;
  }

 private:
  static constexpr char kAccessible[] = "org.a11y.atspi.Accessible";

  void connect() {
    sd_bus* session = nullptr;
    if (sd_bus_open_user(&session) < 0) return;
    sd_bus_message* reply = nullptr;
    const char* address = nullptr;
    if (sd_bus_call_method(session, "org.a11y.Bus", "/org/a11y/bus", "org.a11y.Bus", "GetAddress", nullptr, &reply,
                           "") >= 0 &&
        sd_bus_message_read(reply, "s", &address) > 0 && sd_bus_new(&m_bus) >= 0) {
      const std::string place = address;
      if (sd_bus_set_address(m_bus, place.c_str()) < 0 || sd_bus_set_bus_client(m_bus, 1) < 0 ||
          sd_bus_start(m_bus) < 0)
        m_bus = sd_bus_unref(m_bus);
    }
    sd_bus_message_unref(reply);
    sd_bus_flush_close_unref(session);
  }

  std::string property(const Told& of, const char* name) {
    char* value = nullptr;
    if (sd_bus_get_property_string(m_bus, of.bus.c_str(), of.path.c_str(), kAccessible, name, nullptr, &value) < 0)
      return {};
    std::string text = value;
    free(value);
    return text;
  }

  void fill(Told& one) {
    one.name = property(one, "Name");
    one.description = property(one, "Description");
    sd_bus_message* reply = nullptr;
    const char* role = nullptr;
    if (sd_bus_call_method(m_bus, one.bus.c_str(), one.path.c_str(), kAccessible, "GetRoleName", nullptr, &reply, "") >=
            0 &&
        sd_bus_message_read(reply, "s", &role) > 0)
      one.role = role;
    sd_bus_message_unref(reply);
    reply = nullptr;
    if (sd_bus_call_method(m_bus, one.bus.c_str(), one.path.c_str(), kAccessible, "GetState", nullptr, &reply, "") >=
        0) {
      uint32_t low = 0, high = 0;
      sd_bus_message_enter_container(reply, 'a', "u");
      sd_bus_message_read(reply, "u", &low);
      sd_bus_message_read(reply, "u", &high);
      one.states = low | (static_cast<uint64_t>(high) << 32);
    }
    sd_bus_message_unref(reply);
  }

  void collect(const Told& of, int depth, std::vector<Told>& all) {
    constexpr size_t kMost = 4000;
    constexpr int kDeepest = 60;
    if (depth > kDeepest || all.size() > kMost) return;
    for (const Told& one : childrenOf(of)) {
      if (!one.isShowing() && one.role != "application") continue;
      all.push_back(one);
      collect(one, depth + 1, all);
    }
  }

  Child m_launcher;
  sd_bus* m_bus = nullptr;
};

}  // namespace ash::tests
