// SPDX-License-Identifier: GPL-3.0-or-later
// A TCP port of this machine that nobody listens at.
#pragma once

#include <arpa/inet.h>
#include <sys/socket.h>
#include <unistd.h>

namespace ash::tests {

inline int freePort() {
  const int socket = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
  sockaddr_in here{};
  here.sin_family = AF_INET;
  here.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
  socklen_t size = sizeof here;
  const bool isBound = bind(socket, reinterpret_cast<sockaddr*>(&here), size) == 0 &&
                       getsockname(socket, reinterpret_cast<sockaddr*>(&here), &size) == 0;
  close(socket);
  return isBound ? ntohs(here.sin_port) : 0;
}

/// Whether somebody listens at it by now.
inline bool isListening(int port) {
  const int socket = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
  sockaddr_in there{};
  there.sin_family = AF_INET;
  there.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
  there.sin_port = htons(static_cast<uint16_t>(port));
  const bool isThere = connect(socket, reinterpret_cast<sockaddr*>(&there), sizeof there) == 0;
  close(socket);
  return isThere;
}

}  // namespace ash::tests
