// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg stand-in meter` at a port of its own, ended with the test.
#pragma once

#include <signal.h>

#include <catch2/catch.hpp>
#include <string>
#include <vector>

#include "tests/support/free_port.h"
#include "tests/support/program.h"

namespace ash::tests {

class Meter {
 public:
  explicit Meter(const Bench& bench, std::vector<std::string> more = {}) : m_port(freePort()) {
    std::vector<std::string> arguments = {"stand-in", "meter", "--port", std::to_string(m_port)};
    arguments.insert(arguments.end(), more.begin(), more.end());
    m_process = bench.start(arguments);
    REQUIRE(Bench::waitUntil([this] { return isListening(m_port); }, 10));
  }
  ~Meter() {
    kill(m_process, SIGTERM);
    Bench::wait(m_process, 10);
  }
  Meter(const Meter&) = delete;
  Meter& operator=(const Meter&) = delete;
  std::string address() const { return "127.0.0.1:" + std::to_string(m_port); }

 private:
  int m_port;
  pid_t m_process;
};

}  // namespace ash::tests
