// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/descendants.h"

#include <dirent.h>
#include <fcntl.h>
#include <signal.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <map>
#include <memory>
#include <thread>

#include "system/clock.h"

namespace ash {
namespace {

constexpr int kDeepest = 1000;

struct Stat {
  char state = 'X';
  pid_t parent = 0;
};

// proc(5), /proc/PID/stat: the name in brackets may hold anything, so fields are counted from the last bracket.
Stat statOf(pid_t pid) {
  char path[40], text[512];
  std::snprintf(path, sizeof path, "/proc/%d/stat", pid);
  const int file = open(path, O_RDONLY | O_CLOEXEC);
  if (file < 0) return {};
  const ssize_t length = read(file, text, sizeof text - 1);
  close(file);
  if (length <= 0) return {};
  text[length] = '\0';
  const char* bracket = std::strrchr(text, ')');
  Stat stat;
  if (bracket == nullptr || std::sscanf(bracket + 1, " %c %d", &stat.state, &stat.parent) != 2) return {};
  return stat;
}

std::map<pid_t, Stat> allProcesses() {
  std::map<pid_t, Stat> all;
  const std::unique_ptr<DIR, int (*)(DIR*)> folder(opendir("/proc"), closedir);
  if (!folder) return all;
  while (const dirent* entry = readdir(folder.get())) {
    const auto pid = static_cast<pid_t>(std::strtol(entry->d_name, nullptr, 10));
    if (pid > 1) all[pid] = statOf(pid);
  }
  return all;
}

bool isBelow(pid_t pid, pid_t above, const std::map<pid_t, Stat>& all) {
  for (int steps = 0; steps < kDeepest; ++steps) {
    const auto found = all.find(pid);
    if (found == all.end() || found->second.parent <= 1) return false;
    pid = found->second.parent;
    if (pid == above) return true;
  }
  return false;
}

bool hasEnded(char state) { return state == 'Z' || state == 'X'; }

// A process that is still the one that was seen: its number may have been given to another one meanwhile. Where there
// are no handles of processes (a filter of system calls may refuse them) the number has to do.
void signalIt(pid_t pid, pid_t parent, int signal) {
  const int handle = static_cast<int>(syscall(SYS_pidfd_open, pid, 0));
  if (handle < 0) {
    if ((errno == ENOSYS || errno == EPERM) && statOf(pid).parent == parent) kill(pid, signal);
    return;
  }
  if (statOf(pid).parent == parent) syscall(SYS_pidfd_send_signal, handle, signal, nullptr, 0);
  close(handle);
}

}  // namespace

void adoptOrphans() { prctl(PR_SET_CHILD_SUBREAPER, 1); }

std::vector<pid_t> descendants() {
  const auto all = allProcesses();
  std::vector<pid_t> found;
  for (const auto& [pid, stat] : all) {
    if (!hasEnded(stat.state) && isBelow(pid, getpid(), all)) found.push_back(pid);
  }
  return found;
}

DescendantsEnd::DescendantsEnd(double graceS) : m_graceS(graceS), m_beganS(monotonicS()) {}

bool DescendantsEnd::step(pid_t spared) {
  const auto all = allProcesses();
  const int signal = monotonicS() - m_beganS < m_graceS ? SIGTERM : SIGKILL;
  bool isAllGone = true;
  for (const auto& [pid, stat] : all) {
    if (!isBelow(pid, getpid(), all)) continue;
    if (spared != 0 && (pid == spared || isBelow(pid, spared, all))) continue;
    if (hasEnded(stat.state)) {
      if (stat.parent == getpid()) waitpid(pid, nullptr, WNOHANG);
      continue;
    }
    isAllGone = false;
    signalIt(pid, stat.parent, signal);
    // A stopped process takes no SIGTERM before it goes on.
    if (signal == SIGTERM) signalIt(pid, stat.parent, SIGCONT);
  }
  return isAllGone;
}

bool DescendantsEnd::runFor(double patienceS) {
  while (!step()) {
    if (monotonicS() - m_beganS > patienceS) return false;
    std::this_thread::sleep_for(std::chrono::milliseconds(5));
  }
  return true;
}

}  // namespace ash
