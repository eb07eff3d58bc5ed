// SPDX-License-Identifier: GPL-3.0-or-later
// A socket that listens on loopback, for servers that are made for one test.
#pragma once

#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

#include <catch2/catch.hpp>

namespace ash::tests {

/// At a port that the kernel chooses. Shut down by end(): who waits in accept() comes back.
class Listening {
 public:
  Listening() : m_socket(socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0)) {
    sockaddr_in here{};
    here.sin_family = AF_INET;
    here.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    socklen_t size = sizeof here;
    REQUIRE(bind(m_socket, reinterpret_cast<sockaddr*>(&here), size) == 0);
    REQUIRE(getsockname(m_socket, reinterpret_cast<sockaddr*>(&here), &size) == 0);
    REQUIRE(listen(m_socket, 4) == 0);
    m_port = ntohs(here.sin_port);
  }
  Listening(const Listening&) = delete;
  Listening& operator=(const Listening&) = delete;
  ~Listening() { close(m_socket); }
  int port() const { return m_port; }
  /// The next one that comes; below zero once it is over.
  int next() const { return accept(m_socket, nullptr, nullptr); }
  void end() { shutdown(m_socket, SHUT_RDWR); }

 private:
  int m_socket, m_port = 0;
};

}  // namespace ash::tests
