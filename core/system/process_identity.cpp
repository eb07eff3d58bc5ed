// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/process_identity.h"

#include <fmt/format.h>
#include <unistd.h>

#include <fstream>
#include <optional>
#include <sstream>

namespace ash {
namespace {

struct ProcStat {
  char state = '?';
  unsigned long long startTicks = 0;
};

// The command name stands in parentheses and may hold anything, so fields are counted from the last ')'.
std::optional<ProcStat> readProcStat(int pid) {
  std::ifstream file(fmt::format("/proc/{}/stat", pid));
  std::string line;
  if (!std::getline(file, line)) return std::nullopt;
  const size_t end = line.rfind(')');
  if (end == std::string::npos) return std::nullopt;
  std::istringstream fields(line.substr(end + 1));
  ProcStat stat;
  std::string skipped;
  fields >> stat.state;
  for (int field = 4; field < 22; ++field) fields >> skipped;
  fields >> stat.startTicks;
  if (!fields) return std::nullopt;
  return stat;
}

std::string currentBootId() {
  std::ifstream file("/proc/sys/kernel/random/boot_id");
  std::string id;
  std::getline(file, id);
  return id;
}

}  // namespace

ProcessIdentity thisProcess() {
  ProcessIdentity identity{currentBootId(), getpid(), 0};
  if (const auto stat = readProcStat(identity.pid)) identity.startTicks = stat->startTicks;
  return identity;
}

ProcessState stateOf(const ProcessIdentity& process) {
  if (process.bootId != currentBootId()) return ProcessState::OtherBoot;
  const auto stat = readProcStat(process.pid);
  const bool isSame = stat && stat->startTicks == process.startTicks && stat->state != 'Z' && stat->state != 'X';
  return isSame ? ProcessState::Alive : ProcessState::Gone;
}

bool isRunning(int pid) {
  const auto stat = readProcStat(pid);
  return stat && stat->state != 'Z' && stat->state != 'X' && stat->state != 'T' && stat->state != 't';
}

}  // namespace ash
