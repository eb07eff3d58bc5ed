// SPDX-License-Identifier: GPL-3.0-or-later
// Which process it was: a process id alone is handed out again, so its start and the boot belong to it.
#pragma once

#include <string>

namespace ash {

struct ProcessIdentity {
  std::string bootId;
  int pid = 0;
  unsigned long long startTicks = 0;  ///< field 22 of /proc/PID/stat, proc(5)
};

ProcessIdentity thisProcess();

enum class ProcessState {
  Alive,
  Gone,       ///< same boot, but the process is no longer there
  OtherBoot,  ///< the machine has been started anew since
};
ProcessState stateOf(const ProcessIdentity& process);

/// True when the process exists and is neither stopped (SIGSTOP) nor a zombie.
bool isRunning(int pid);

}  // namespace ash
