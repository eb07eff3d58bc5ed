// SPDX-License-Identifier: GPL-3.0-or-later
// `load-guardian`: stands between a load and the command that it runs. Everything that the command starts, however it
// hides, stays below this process and ends with the command, with the load, or with the load's recorder. Started by
// ashg only.
#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <sys/prctl.h>
#include <sys/signalfd.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <optional>
#include <string>

#include "load/guardian/guardian.h"
#include "system/clock.h"
#include "system/descendants.h"
#include "system/descriptors.h"

namespace ash {
namespace {

constexpr int kCannotStart = 127;

sigset_t watchedSignals() {
  sigset_t set;
  sigemptyset(&set);
  for (const int signal : {SIGCHLD, SIGTERM, SIGINT, SIGHUP}) sigaddset(&set, signal);
  return set;
}

// proc(5), oom_score_adj: the load goes first when memory runs out, its guardian must not.
void setOomScore(const char* score) { std::ofstream("/proc/self/oom_score_adj") << score; }

std::optional<GuardianOrder> takeOrder() {
  std::string text;
  char chunk[4096];
  while (text.size() <= kLongestOrderB) {
    if (auto order = orderFromText(text)) return order;
    const ssize_t length = read(kGuardianSocket, chunk, sizeof chunk);
    if (length <= 0) return std::nullopt;
    text.append(chunk, static_cast<size_t>(length));
  }
  return std::nullopt;
}

void tell(const GuardianWord& word) {
  const std::string text = wordText(word);
  send(kGuardianSocket, text.data(), text.size(), MSG_NOSIGNAL | MSG_DONTWAIT);
}

[[noreturn]] void becomeCommand(GuardianOrder& order) {
  prctl(PR_SET_PDEATHSIG, SIGKILL);
  setOomScore("1000");
  setpgid(0, 0);
  lowerDescriptorLimit();
  sigset_t none;
  sigemptyset(&none);
  sigprocmask(SIG_SETMASK, &none, nullptr);
  close(kGuardianSocket);
  for (std::string& entry : order.environment) putenv(entry.data());
  if (!order.folder.empty() && chdir(order.folder.c_str()) != 0) _exit(kCannotStart - 1);
  execl("/bin/sh", "sh", "-c", order.command.c_str(), static_cast<char*>(nullptr));
  _exit(kCannotStart);
}

/// Collects children that have ended; the status of the command once it is among them.
std::optional<int> collect(pid_t command) {
  std::optional<int> ended;
  int status = 0;
  for (pid_t pid = waitpid(-1, &status, WNOHANG); pid > 0; pid = waitpid(-1, &status, WNOHANG)) {
    if (pid == command) ended = status;
  }
  return ended;
}

bool mustEnd(int signals) {
  signalfd_siginfo info{};
  bool isAsked = false;
  while (read(signals, &info, sizeof info) == static_cast<ssize_t>(sizeof info)) isAsked |= info.ssi_signo != SIGCHLD;
  return isAsked;
}

// Watches until the command or its load ends.
std::optional<int> watch(pid_t command, int signals, int load) {
  pollfd watched[] = {{signals, POLLIN, 0}, {kGuardianSocket, POLLIN, 0}, {load, POLLIN, 0}};
  while (true) {
    poll(watched, load >= 0 ? 3 : 2, 500);
    if (const auto status = collect(command)) return status;
    if (mustEnd(signals) || watched[1].revents != 0 || watched[2].revents != 0) return std::nullopt;
  }
}

int guard() {
  setsid();
  setOomScore("0");
  const sigset_t set = watchedSignals();
  sigprocmask(SIG_BLOCK, &set, nullptr);
  const int signals = signalfd(-1, &set, SFD_CLOEXEC | SFD_NONBLOCK);
  const int load = static_cast<int>(syscall(SYS_pidfd_open, getppid(), 0));
  adoptOrphans();
  auto order = takeOrder();
  if (!order || signals < 0) return kCannotStart;
  const double beganS = monotonicS();
  const pid_t command = fork();
  if (command < 0) return kCannotStart;
  if (command == 0) becomeCommand(*order);
  // The command's output ends with the command.
  close(STDOUT_FILENO);
  close(STDERR_FILENO);
  tell({false, 0, beganS});
  const auto status = watch(command, signals, load);
  if (status) tell({true, *status, monotonicS()});
  DescendantsEnd(kGuardianGraceS).runFor(kGuardianPatienceS);
  return 0;
}

}  // namespace
}  // namespace ash

int main() { return ash::guard(); }
