// SPDX-License-Identifier: GPL-3.0-or-later
// This machine's readings over HTTP or HTTPS (cpp-httplib): /metrics in OpenMetrics 1.0, / in one line.
#pragma once

#include <functional>
#include <memory>
#include <string>

#include "model/result.h"

namespace ash {

struct ServeOptions {
  std::string host = "127.0.0.1";
  int port = 9410;                ///< 0 = any that is free
  std::string token;              ///< empty = none is asked for
  std::string certFile, keyFile;  ///< both or none
};

/// Whether only this machine can reach that address.
bool isLoopback(const std::string& host);

/// Compared in a time that tells nothing of where they differ (SHA-256 of both, then CRYPTO_memcmp).
bool isSameToken(const std::string& given, const std::string& wanted);

/// Answers 4 requests at a time, others wait or get 503; a client that says nothing for two seconds is let go, and
/// holds nobody up meanwhile. A wrong or missing token gets 401 with WWW-Authenticate: Bearer.
class ReadingServer {
 public:
  /// Refused: an address beyond this machine without a token; a certificate without its key. `page` makes the page, on
  /// threads of the server.
  static Result<std::unique_ptr<ReadingServer>> start(const ServeOptions& options, std::function<std::string()> page);
  ~ReadingServer();
  int port() const;

 private:
  struct State;
  explicit ReadingServer(std::unique_ptr<State> state);
  std::unique_ptr<State> m_state;
};

}  // namespace ash
