// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/recorder_child.h"

#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <filesystem>
#include <thread>

#include "system/spawn.h"

namespace ash::cli {

std::string thisProgram() { return std::filesystem::read_symlink("/proc/self/exe").string(); }

std::optional<int> carryOutRecorder(const std::vector<std::string>& arguments, const std::function<bool()>& isAsked) {
  pid_t child = 0;
  // Results of who started it only on stdout.
  if (spawnInGroup(arguments, {{STDERR_FILENO, STDOUT_FILENO}}, child) != 0) return std::nullopt;
  bool isTold = false;
  int status = 0;
  while (waitpid(child, &status, WNOHANG) == 0) {
    const bool isToEnd = isAsked();
    if (isToEnd && !isTold) kill(child, SIGTERM);
    isTold |= isToEnd;
    std::this_thread::sleep_for(std::chrono::milliseconds(50));
  }
  return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

}  // namespace ash::cli
