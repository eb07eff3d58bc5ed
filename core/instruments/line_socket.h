// SPDX-License-Identifier: GPL-3.0-or-later
// Lines over a TCP connection, every wait bounded.
#pragma once

#include <boost/asio/io_context.hpp>
#include <boost/asio/ip/tcp.hpp>
#include <optional>
#include <string>

#include "model/result.h"

namespace ash {

/// Host and port of "127.0.0.1:5025", "[::1]:5025", "meter.lan". Empty when it is none.
struct HostPort {
  std::string host, port;
};
std::optional<HostPort> parseHostPort(const std::string& address, const char* usualPort);

class LineSocket {
 public:
  static constexpr size_t kLongestLine = size_t{64} * 1024;

  LineSocket() : m_socket(m_context) {}
  /// Connects within `timeoutS`, the resolver's wait included.
  Status connect(const HostPort& to, double timeoutS);
  bool isOpen() const { return m_socket.is_open(); }
  void close();
  Status send(const std::string& text, double timeoutS);
  enum class Got { Line, Nothing, Lost };
  /// The next line without its end, cut at kLongestLine. Nothing: none came in time. Lost: the other side hung up.
  Got readLine(std::string& line, double timeoutS);
  /// Throws away whatever has come so far, whole lines and pieces; for how many whole lines that were.
  size_t drop();

 private:
  /// Runs what was begun, until it is done or the time is up (then it is taken back). True when it was done.
  bool runFor(double timeoutS, const bool& isDone);
  bool takeLine(std::string& line);

  boost::asio::io_context m_context;
  boost::asio::ip::tcp::socket m_socket;
  std::string m_buffer;
  bool m_isSkipping = false;  // the rest of a line that was cut
};

}  // namespace ash
