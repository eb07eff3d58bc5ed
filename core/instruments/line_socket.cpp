// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/line_socket.h"

#include <fcntl.h>
#include <fmt/format.h>

#include <algorithm>
#include <boost/asio/buffer.hpp>
#include <boost/asio/connect.hpp>
#include <boost/asio/write.hpp>
#include <chrono>

#include "system/clock.h"
#include "system/patience.h"

namespace ash {
namespace {

namespace asio = boost::asio;
using asio::ip::tcp;
using Endpoints = std::vector<tcp::endpoint>;

// getaddrinfo(3) cannot be hurried: it may be left behind.
Result<Endpoints> resolved(const HostPort& to, double timeoutS) {
  const auto found = within<Result<Endpoints>>(timeoutS, [to]() -> Result<Endpoints> {
    asio::io_context context;
    tcp::resolver resolver(context);
    boost::system::error_code error;
    Endpoints endpoints;
    for (const auto& entry : resolver.resolve(to.host, to.port, error)) endpoints.push_back(entry.endpoint());
    if (error || endpoints.empty())
      return Error::environment(fmt::format("the name {} is not known ({})", to.host, error.message()));
    return endpoints;
  });
  if (!found) return Error::environment(fmt::format("the name {} was not resolved in time", to.host));
  return *found;
}

std::chrono::nanoseconds duration(double seconds) {
  return std::chrono::duration_cast<std::chrono::nanoseconds>(std::chrono::duration<double>(std::max(seconds, 0.0)));
}

}  // namespace

std::optional<HostPort> parseHostPort(const std::string& address, const char* usualPort) {
  HostPort parts{address, usualPort};
  if (address.starts_with('[')) {
    const size_t end = address.find(']');
    if (end == std::string::npos) return std::nullopt;
    parts.host = address.substr(1, end - 1);
    if (end + 1 < address.size()) {
      if (address[end + 1] != ':') return std::nullopt;
      parts.port = address.substr(end + 2);
    }
  } else if (const size_t colon = address.rfind(':'); colon != std::string::npos && address.find(':') == colon) {
    parts.host = address.substr(0, colon);
    parts.port = address.substr(colon + 1);
  }
  const bool isNumber = !parts.port.empty() && parts.port.size() <= 5 &&
                        parts.port.find_first_not_of("0123456789") == std::string::npos &&
                        std::stoi(parts.port) <= 65535;
  if (parts.host.empty() || !isNumber) return std::nullopt;
  return parts;
}

Status LineSocket::connect(const HostPort& to, double timeoutS) {
  close();
  const double startS = monotonicS();
  const auto endpoints = resolved(to, timeoutS);
  if (!endpoints) return endpoints.error();
  boost::system::error_code result;
  bool isDone = false;
  asio::async_connect(m_socket, *endpoints, [&](const boost::system::error_code& error, const tcp::endpoint&) {
    result = error;
    isDone = true;
  });
  const bool isInTime = runFor(timeoutS - (monotonicS() - startS), isDone);
  if (isInTime && !result) {
    // A load or a command that is started meanwhile must not hold the connection open.
    fcntl(m_socket.native_handle(), F_SETFD, FD_CLOEXEC);
    m_socket.set_option(tcp::no_delay(true), result);
    return {};
  }
  close();
  if (!isInTime) return Error::environment("it does not answer");
  if (result == asio::error::connection_refused) return Error::environment("nobody listens there");
  return Error::environment(result.message());
}

void LineSocket::close() {
  boost::system::error_code ignored;
  m_socket.close(ignored);
  m_context.restart();
  m_context.poll();
  m_buffer.clear();
  m_isSkipping = false;
}

bool LineSocket::runFor(double timeoutS, const bool& isDone) {
  m_context.restart();
  const auto end = std::chrono::steady_clock::now() + duration(timeoutS);
  while (!isDone && m_context.run_one_until(end) > 0) {
  }
  if (isDone) return true;
  boost::system::error_code ignored;
  m_socket.cancel(ignored);
  m_context.restart();
  m_context.run();  // the handler that was taken back refers to the caller's own
  return false;
}

Status LineSocket::send(const std::string& text, double timeoutS) {
  boost::system::error_code result;
  bool isDone = false;
  asio::async_write(m_socket, asio::buffer(text), [&](const boost::system::error_code& error, size_t) {
    result = error;
    isDone = true;
  });
  if (!runFor(timeoutS, isDone)) return Error::environment("it takes no more");
  if (result) return Error::environment("the connection is gone");
  return {};
}

// A line that never ends is cut, and its rest thrown away up to the next end.
bool LineSocket::takeLine(std::string& line) {
  while (true) {
    const size_t end = m_buffer.find('\n');
    if (m_isSkipping) {
      m_buffer.erase(0, end == std::string::npos ? m_buffer.size() : end + 1);
      if (end == std::string::npos) return false;
      m_isSkipping = false;
      continue;
    }
    if (end == std::string::npos && m_buffer.size() <= kLongestLine) return false;
    const size_t length = std::min(end, kLongestLine);
    line = m_buffer.substr(0, length);
    m_isSkipping = end == std::string::npos || end > kLongestLine;
    m_buffer.erase(0, m_isSkipping ? length : end + 1);
    if (line.ends_with('\r')) line.pop_back();
    return true;
  }
}

LineSocket::Got LineSocket::readLine(std::string& line, double timeoutS) {
  const double startS = monotonicS();
  char chunk[4096];
  while (!takeLine(line)) {
    boost::system::error_code result;
    size_t got = 0;
    bool isDone = false;
    m_socket.async_read_some(asio::buffer(chunk), [&](const boost::system::error_code& error, size_t length) {
      result = error;
      got = length;
      isDone = true;
    });
    if (!runFor(timeoutS - (monotonicS() - startS), isDone)) return Got::Nothing;
    if (result) return Got::Lost;
    m_buffer.append(chunk, got);
  }
  return Got::Line;
}

size_t LineSocket::drop() {
  size_t lines = 0;
  boost::system::error_code error;
  m_socket.non_blocking(true, error);
  char chunk[4096];
  for (int piece = 0; piece < 256; ++piece) {
    const size_t got = m_socket.read_some(asio::buffer(chunk), error);
    if (error || got == 0) break;
    m_buffer.append(chunk, got);
  }
  lines = static_cast<size_t>(std::count(m_buffer.begin(), m_buffer.end(), '\n'));
  m_isSkipping = m_isSkipping && lines == 0;
  m_buffer.clear();
  return lines;
}

}  // namespace ash
