// SPDX-License-Identifier: GPL-3.0-or-later
// The Unix-domain socket of a run: tells whoever is attached, takes their wishes. Protocol in docs/run-socket.md.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/result.h"

namespace ash {

/// Where the socket of a run is (runtime folder, "runs/ID.sock").
Result<std::string> runSocketPath(const std::string& runId);

/// Serves a run on a thread of its own. Nothing that a listener does, or fails to do, delays the caller.
class RunSocket {
 public:
  /// `hello` is sent first to everybody who attaches.
  static Result<std::unique_ptr<RunSocket>> open(const std::string& path, const Json& hello);
  ~RunSocket();
  RunSocket(const RunSocket&) = delete;
  RunSocket& operator=(const RunSocket&) = delete;

  /// Sends a message to all. `sticky` messages ("phase", "state", …) are kept, one of each type, for those who attach
  /// later; samples of the last seconds are kept as well, so that nothing is missing between book and socket.
  void tell(const Json& message, bool sticky = false);

  /// Wishes that came in since the last call, oldest first. `answer` them by their "client" number.
  std::vector<Json> takeWishes();
  void answer(long long client, const Json& message);

  /// Sends what is still queued, waits for it at most 0.3 s, and closes.
  void close();

 private:
  class Server;
  explicit RunSocket(std::unique_ptr<Server> server);
  std::unique_ptr<Server> m_server;
};

}  // namespace ash
