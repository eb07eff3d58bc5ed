// SPDX-License-Identifier: GPL-3.0-or-later
// A load as a process of its own, seen from the recorder that started it.
#pragma once

#include <sys/types.h>

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "load/load_worker.h"
#include "model/result.h"
#include "system/descendants.h"

namespace ash {

/// Starts `program load KIND --stream …`, listens to it and gives it a sign of life with every poll(). The load ends by
/// itself when its parent dies or falls silent (heartbeat.h); the destructor ends it too. What a command has hidden
/// ends with it even when load and guardian are killed: this process adopts it. Use from one thread, the one that
/// started it: the kernel ties its life to that thread.
class LoadProcess {
 public:
  LoadProcess() = default;
  LoadProcess(const LoadProcess&) = delete;
  LoadProcess& operator=(const LoadProcess&) = delete;
  ~LoadProcess();

  /// `program` is the path of `ashg`.
  Status start(const std::string& program, const LoadOptions& options);
  /// SIGTERM, and SIGKILL after 0.6 s, to whatever it has started as well. Returns when the process is gone, or 0.9 s
  /// after it was told to go: what is left then does no work and only waits for the kernel to free what it held.
  void stop();

  /// Takes in what the load has told since the last call and tells it that somebody watches; never blocks. To be called
  /// at least five times a second while it runs. A load that tells nothing for three seconds is ended as failed.
  void poll();
  bool isRunning() const { return m_pid > 0; }
  /// Its process, 0 while none runs.
  pid_t pid() const { return m_pid; }
  /// True when it ended without having been told to and without having done its task.
  bool hasFailed() const { return m_hasFailed; }
  const std::string& failure() const { return m_failure; }
  /// True when the work or the passes it was asked for are done; it has then ended by itself.
  bool isTaskDone() const { return m_isTaskDone; }
  /// Seconds the task took; missing while it is not done.
  double taskS() const { return m_taskS; }
  /// When it began to work, on the monotonic clock; missing until its first report.
  double beganS() const { return m_beganS; }
  /// Work units per second over the last report; missing until the first one.
  double workRate() const { return m_workRate; }
  /// Frames per second over the last report; missing where nothing is drawn.
  double frameRate() const { return m_frameRate; }
  /// Passes that ended, of all loads that were started here.
  long long passes() const { return m_passCount; }
  /// Latest values that a command's output told.
  const std::map<std::string, double>& live() const { return m_last.live; }
  /// Wrong results of all loads that were started here, and on which cores.
  long long errors() const { return m_errorsBefore + m_last.errors; }
  const std::vector<WrongResults>& wrong() const { return m_wrong; }
  /// Passes that ended since the last call; their times count from the start of the load.
  std::vector<Pass> takePasses() { return std::exchange(m_newPasses, {}); }

 private:
  void beat();
  void watchSilence(double nowS);
  void endGroup();
  void readLines();
  void takeLine(const std::string& line);
  void takeRates(const LoadProgress& now);
  void reap(int status);

  pid_t m_pid = 0;
  std::vector<pid_t> m_lingering;  // killed, not yet gone
  bool m_runsCommand = false;
  std::optional<DescendantsEnd> m_orphans;  // of a command whose load and guardian were killed
  int m_pipe = -1;                          // from the load
  int m_beat = -1;                          // to the load
  double m_heardS = 0;
  int m_pollsSinceHeard = 0;
  std::string m_buffer;
  LoadProgress m_last;
  long long m_errorsBefore = 0;
  double m_workRate = 0, m_frameRate = 0;
  double m_taskS = 0, m_beganS = 0;
  bool m_isTaskDone = false;
  long long m_passCount = 0;
  std::vector<Pass> m_newPasses;
  std::vector<WrongResults> m_wrong;
  bool m_hasFailed = false;
  std::string m_failure;
  std::string m_endedBecause;  // the load's own last words
};

}  // namespace ash
