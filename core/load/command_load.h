// SPDX-License-Identifier: GPL-3.0-or-later
// The load `command`: the reviewer's own program, again and again, with what it says of itself.
#pragma once

#include <map>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "load/guardian/guarded_command.h"
#include "load/load_worker.h"
#include "model/pattern.h"

namespace ash {

/// Starts the command below a guardian (guardian/main.cpp), reads its output and takes its scores, on a thread of its
/// own: who watches over the load never waits for a line. Everything that the command starts ends with it, however it
/// hides and whoever dies first: the guardian adopts orphans, and this process adopts the guardian's.
class CommandLoad {
 public:
  explicit CommandLoad(LoadOptions options);
  CommandLoad(const CommandLoad&) = delete;
  CommandLoad& operator=(const CommandLoad&) = delete;
  ~CommandLoad();

  /// Starts the first run; `startS` is the load's own zero on CLOCK_MONOTONIC. An error where a pattern cannot be used
  /// or the guardian is not there.
  Status start(double startS);
  /// SIGTERM to all of it, SIGKILL after 0.3 s. Returns when nothing of it is left, after 0.9 s at the latest.
  void stop();

  int runsDone() const;
  bool isDone() const;
  double doneS() const;
  std::string failure() const;
  std::map<std::string, double> live() const;
  std::vector<Pass> takePasses();

 private:
  /// One run of the command as the thread sees it.
  struct Run {
    GuardedCommand command;
    std::string lines;  // not yet whole
    std::map<std::string, double> scores;
    std::string lastLine;
  };
  using Patterns = std::map<std::string, Pattern>;

  void work(const std::stop_token& stop);
  Result<Run> spawn() const;
  void follow(Run& run, const std::stop_token& stop);
  void readOutput(Run& run);
  void takeLine(const std::string& line, Run& run);
  void endGuardian(Run& run);
  void judge(Run& run);
  std::string failureOf(const Run& run) const;
  void fail(std::string why);
  bool isOver() const;

  const LoadOptions m_options;
  Patterns m_scorePatterns, m_livePatterns;  // constant once started
  double m_startS = 0;
  int m_wake = -1;  // an eventfd: the thread is to end
  mutable std::mutex m_mutex;
  // Guarded by m_mutex.
  std::map<std::string, double> m_live;
  std::string m_failure;
  std::vector<Pass> m_passes;
  int m_runsDone = 0;
  bool m_isDone = false;
  double m_doneS = 0;
  std::jthread m_thread;
};

}  // namespace ash
