// SPDX-License-Identifier: GPL-3.0-or-later
// A load as a process of its own, seen from the recorder that started it.
#pragma once

#include <sys/types.h>

#include <string>

#include "load/load_worker.h"
#include "model/result.h"

namespace ash {

/// Starts `program load KIND --stream …` and listens to it. The load ends by itself when its parent dies; the
/// destructor ends it too. Use from one thread, the one that started it: the kernel ties its life to that thread.
class LoadProcess {
 public:
  LoadProcess() = default;
  LoadProcess(const LoadProcess&) = delete;
  LoadProcess& operator=(const LoadProcess&) = delete;
  ~LoadProcess();

  /// `program` is the path of `ashg`.
  Status start(const std::string& program, const LoadOptions& options);
  /// SIGTERM, and SIGKILL after 0.8 s. Returns when the process is gone.
  void stop();

  /// Takes in what the load has told since the last call; never blocks.
  void poll();
  bool isRunning() const { return m_pid > 0; }
  /// True when it ended without having been told to.
  bool hasFailed() const { return m_hasFailed; }
  const std::string& failure() const { return m_failure; }
  /// Work units per second over the last report; missing until the first one.
  double workRate() const { return m_workRate; }
  long long errors() const { return m_last.errors; }

 private:
  void readLines();
  void takeLine(const std::string& line);
  void reap(int status);

  pid_t m_pid = 0;
  int m_pipe = -1;
  std::string m_buffer;
  LoadProgress m_last;
  double m_workRate = 0;
  bool m_hasFailed = false;
  std::string m_failure;
};

}  // namespace ash
