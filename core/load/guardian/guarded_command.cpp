// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/guardian/guarded_command.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <thread>
#include <utility>

#include "system/clock.h"
#include "system/short_process.h"

extern char** environ;

namespace ash {
namespace {

void closeIt(int& descriptor) {
  if (descriptor >= 0) close(std::exchange(descriptor, -1));
}

// The guardian with its socket and the command's output; it leaves the load's process group itself.
int spawnGuardian(const std::string& program, int socket, int output, pid_t& pid) {
  posix_spawn_file_actions_t files;
  posix_spawn_file_actions_init(&files);
  posix_spawn_file_actions_addopen(&files, 0, "/dev/null", O_RDONLY, 0);
  posix_spawn_file_actions_adddup2(&files, output, 1);
  posix_spawn_file_actions_adddup2(&files, output, 2);
  posix_spawn_file_actions_adddup2(&files, socket, kGuardianSocket);
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  sigset_t none;
  sigemptyset(&none);
  posix_spawnattr_setsigmask(&attributes, &none);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGMASK);
  char* const arguments[] = {const_cast<char*>(kGuardianName), nullptr};
  const int error = posix_spawn(&pid, program.c_str(), &files, &attributes, arguments, environ);
  posix_spawn_file_actions_destroy(&files);
  posix_spawnattr_destroy(&attributes);
  return error;
}

// Above what adddup2 gives away, so that no descriptor is dup'ed onto itself and keeps its close-on-exec.
int movedUp(int descriptor) {
  const int moved = fcntl(descriptor, F_DUPFD_CLOEXEC, 10);
  close(descriptor);
  return moved;
}

}  // namespace

std::string guardianProgram() { return programBeside(kGuardianName); }

Result<GuardedCommand> GuardedCommand::start(const GuardianOrder& order) {
  const std::string program = guardianProgram();
  if (program.empty()) {
    return Error::environment(
        fmt::format("The program {} is not beside ashg, and no command is run without it; install Ash Gauge whole.",
                    kGuardianName));
  }
  GuardedCommand run;
  int output[2], words[2];
  if (pipe2(output, O_CLOEXEC) != 0) return Error::io("make a pipe for", order.command, errno);
  if (socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, words) != 0) {
    const int error = errno;
    close(output[0]);
    close(output[1]);
    return Error::io("make a socket for", order.command, error);
  }
  int theirs[2] = {movedUp(output[1]), movedUp(words[1])};
  const int error = spawnGuardian(program, theirs[1], theirs[0], run.guardian);
  for (int& descriptor : theirs) closeIt(descriptor);
  run.output = output[0];
  run.socket = words[0];
  if (error != 0) {
    closeIt(run.output);
    closeIt(run.socket);
    return Error::io("start", program, error);
  }
  fcntl(run.output, F_SETFL, O_NONBLOCK);
  fcntl(run.socket, F_SETFL, O_NONBLOCK);
  const std::string text = orderText(order);
  // It fits the socket's own buffer (kLongestOrderB); a guardian that is gone already is noticed by takeWords().
  static_cast<void>(send(run.socket, text.data(), text.size(), MSG_NOSIGNAL));
  run.beganS = monotonicS();
  return run;
}

void GuardedCommand::takeWords() {
  char chunk[256];
  for (ssize_t length = read(socket, chunk, sizeof chunk); length > 0; length = read(socket, chunk, sizeof chunk))
    words.append(chunk, static_cast<size_t>(length));
  for (size_t at = words.find('\n'); at != std::string::npos; at = words.find('\n')) {
    const auto word = wordFromText(words.substr(0, at));
    if (word && word->hasEnded)
      ended = word;
    else if (word)
      beganS = word->atS;
    words.erase(0, at + 1);
  }
}

void GuardedCommand::closeOutput() { closeIt(output); }

bool GuardedCommand::end() {
  const double startS = monotonicS();
  if (!ended) kill(guardian, SIGTERM);
  bool isGone = false;
  while (!isGone && monotonicS() - startS < kGuardianPatienceS) {
    isGone = waitpid(guardian, nullptr, WNOHANG) != 0;
    if (!isGone) std::this_thread::sleep_for(std::chrono::milliseconds(2));
  }
  closeIt(output);
  closeIt(socket);
  return isGone;
}

}  // namespace ash
