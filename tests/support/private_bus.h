// SPDX-License-Identifier: GPL-3.0-or-later
// A message bus of the test's own, which programs take for the desktop's and the system's.
#pragma once

#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <array>
#include <cstdlib>
#include <string>

namespace ash::tests {

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
    std::array<char, 512> chunk{};
    while (m_address.find('\n') == std::string::npos) {
      const ssize_t length = read(ends[0], chunk.data(), chunk.size());
      if (length <= 0) break;
      m_address.append(chunk.data(), static_cast<size_t>(length));
    }
    close(ends[0]);
    m_address = m_address.substr(0, m_address.find('\n'));
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
