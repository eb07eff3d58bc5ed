// SPDX-License-Identifier: GPL-3.0-or-later
// What a load and the guardian of its command say to each other over a socket.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ash {

/// The guardian's end of the socket; its standard output and error are the command's.
inline constexpr int kGuardianSocket = 3;
/// The name under which it runs: other than its load's, so that who kills every load by name leaves it at work.
inline constexpr const char* kGuardianName = "load-guardian";
/// From SIGTERM to SIGKILL.
inline constexpr double kGuardianGraceS = 0.3;
/// After so long what is left waits in the kernel.
inline constexpr double kGuardianPatienceS = 0.9;
/// Of a whole order: it is handed over in one piece.
inline constexpr size_t kLongestOrderB = size_t{96} * 1024;

/// What the guardian is to run: a line for /bin/sh, the folder to run it in (empty = this one), and what is added to
/// the environment ("NAME=VALUE").
struct GuardianOrder {
  std::string command;
  std::string folder;
  std::vector<std::string> environment;
};
/// Texts ended by NUL each, an empty one at the end.
std::string orderText(const GuardianOrder& order);
/// Nothing while the text is not whole.
std::optional<GuardianOrder> orderFromText(const std::string& text);

/// What it tells: that the command has begun, and how it ended (as waitpid(2) tells it), each with its time on
/// CLOCK_MONOTONIC. "began 12.5\n", "ended 0 13.5\n".
struct GuardianWord {
  bool hasEnded = false;
  int status = 0;
  double atS = 0;
};
std::string wordText(const GuardianWord& word);
std::optional<GuardianWord> wordFromText(const std::string& line);

}  // namespace ash
