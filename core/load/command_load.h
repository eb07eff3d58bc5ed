// SPDX-License-Identifier: GPL-3.0-or-later
// The load `command`: the reviewer's own program, again and again, with what it says of itself.
#pragma once

#include <sys/types.h>

#include <map>
#include <regex>
#include <string>
#include <vector>

#include "load/load_worker.h"

namespace ash {

/// Starts the command by /bin/sh in a process group that ends as one, reads its output, and takes its scores.
/// Everything it starts, however it hides, ends with it: this process adopts orphans (prctl(2),
/// PR_SET_CHILD_SUBREAPER). Used from one thread.
class CommandLoad {
 public:
  explicit CommandLoad(LoadOptions options);
  CommandLoad(const CommandLoad&) = delete;
  CommandLoad& operator=(const CommandLoad&) = delete;
  ~CommandLoad();

  /// Starts the first run.
  Status start(double startS);
  /// Takes in output and ends of runs, starts the next; never blocks. To be called every 20 ms.
  void poll();
  /// SIGTERM to all of it, SIGKILL after 0.3 s. Returns when nothing of it is left.
  void stop();

  int runsDone() const { return m_runsDone; }
  bool isDone() const { return m_isDone; }
  double doneS() const { return m_doneS; }
  const std::string& failure() const { return m_failure; }
  const std::map<std::string, double>& live() const { return m_live; }
  std::vector<Pass> takePasses() { return std::exchange(m_passes, {}); }

 private:
  Status spawn();
  void readOutput();
  void takeLine(const std::string& line);
  void endRun(int status);
  void endDescendants();

  const LoadOptions m_options;
  std::map<std::string, std::regex> m_scorePatterns, m_livePatterns;
  std::map<std::string, double> m_scores, m_live;
  double m_startS = 0, m_runBeganS = 0, m_doneS = 0;
  pid_t m_pid = 0;
  int m_pipe = -1;
  std::string m_buffer, m_lastLine, m_failure;
  std::vector<Pass> m_passes;
  int m_runsDone = 0;
  bool m_isDone = false;
};

}  // namespace ash
