// SPDX-License-Identifier: GPL-3.0-or-later
// A message bus of the test's own, which programs take for the desktop's and the system's.
#pragma once

#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdlib>
#include <string>

namespace ash::tests {

/// What a program tells of itself first: up to the end of the line, or of what it says.
inline std::string firstLineOf(int descriptor) {
  std::string line;
  char c = 0;
  while (read(descriptor, &c, 1) == 1 && c != '\n') line += c;
  return line;
}

class PrivateBus {
 public:
  /// With a configuration of its own, or with that of a session, where everybody may everything.
  explicit PrivateBus(const std::string& configuration = {}) {
    int ends[2];
    if (pipe(ends) != 0) return;
    m_daemon = fork();
    if (m_daemon == 0) {
      dup2(ends[1], 1);
      const std::string which = configuration.empty() ? "--session" : "--config-file=" + configuration;
      execlp("dbus-daemon", "dbus-daemon", which.c_str(), "--nofork", "--nopidfile", "--print-address=1", nullptr);
      _exit(127);
    }
    close(ends[1]);
    m_address = firstLineOf(ends[0]);
    close(ends[0]);
    setenv("DBUS_SESSION_BUS_ADDRESS", m_address.c_str(), 1);
    setenv("DBUS_SYSTEM_BUS_ADDRESS", m_address.c_str(), 1);
  }
  ~PrivateBus() {
    kill(m_daemon, SIGTERM);
    waitpid(m_daemon, nullptr, 0);
    unsetenv("DBUS_SESSION_BUS_ADDRESS");
    unsetenv("DBUS_SYSTEM_BUS_ADDRESS");
  }
  PrivateBus(const PrivateBus&) = delete;
  PrivateBus& operator=(const PrivateBus&) = delete;

  bool isUp() const { return !m_address.empty(); }

 private:
  pid_t m_daemon = -1;
  std::string m_address;
};

}  // namespace ash::tests
