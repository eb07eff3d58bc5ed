// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences for a terminal or a pipe that may take nothing (Ctrl-S, `| head -1`), without ever waiting for it.
#pragma once

#include <memory>
#include <string>

namespace ash::cli {

/// Writes what it is told to a descriptor from a thread of its own. While the descriptor takes nothing, the newest
/// 256 KiB are kept; once its reader is gone all is dropped. A reader that goes away raises no signal in this process
/// from the first Speaker on.
class Speaker {
 public:
  /// Speaks on a copy of `descriptor`.
  explicit Speaker(int descriptor);
  /// Drains.
  ~Speaker();
  Speaker(const Speaker&) = delete;
  Speaker& operator=(const Speaker&) = delete;

  void say(std::string text);
  /// Waits half a second at most until all is written that was said.
  void drain();

 private:
  struct State;
  static void work(const std::shared_ptr<State>& state);
  std::shared_ptr<State> m_state;
};

}  // namespace ash::cli
