// SPDX-License-Identifier: GPL-3.0-or-later
// Runs `ashg` as a person does and tells what it printed.
#pragma once

#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <string>
#include <thread>
#include <vector>

#include "tests/support/temp_folder.h"

namespace ash::tests {

struct Ran {
  int status = -1;
  std::string out, err;
};

/// A folder with a runtime folder of its own, and the program run in it.
class Bench : public TempFolder {
 public:
  Bench() {
    std::filesystem::create_directories(path("run"));
    setenv("XDG_RUNTIME_DIR", path("run").c_str(), 1);
    setenv("XDG_CONFIG_HOME", path("config").c_str(), 1);
    setenv("XDG_STATE_HOME", path("state").c_str(), 1);
  }

  /// `arguments` as typed into a shell; `environment` is set for it ("A=1 B=2").
  Ran ashg(const std::string& arguments, const std::string& environment = "") const {
    const std::string command = "cd '" + path() + "' && " + environment + " '" + ASHG_PROGRAM + "' " + arguments +
                                " >'" + path(".out") + "' 2>'" + path(".err") + "' </dev/null";
    const int raw = std::system(command.c_str());
    return {WIFEXITED(raw) ? WEXITSTATUS(raw) : 128 + WTERMSIG(raw), readFile(path(".out")), readFile(path(".err"))};
  }

  /// Starts it in the background; the caller ends it.
  pid_t start(const std::vector<std::string>& arguments) const {
    const pid_t child = fork();
    if (child != 0) return child;
    if (chdir(path().c_str()) != 0) _exit(126);
    std::vector<char*> raw = {const_cast<char*>(ASHG_PROGRAM)};
    for (const std::string& argument : arguments) raw.push_back(const_cast<char*>(argument.c_str()));
    raw.push_back(nullptr);
    if (freopen("/dev/null", "w", stdout) == nullptr || freopen(path("background.err").c_str(), "w", stderr) == nullptr)
      _exit(126);
    execv(ASHG_PROGRAM, raw.data());
    _exit(127);
  }

  /// Waits for a child that was started; -1 when it does not end in time.
  static int wait(pid_t child, double patienceS) {
    for (double waited = 0; waited < patienceS; waited += 0.01) {
      int raw = 0;
      if (waitpid(child, &raw, WNOHANG) == child) return WIFEXITED(raw) ? WEXITSTATUS(raw) : 128 + WTERMSIG(raw);
      std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    return -1;
  }

  template <typename F>
  static bool waitUntil(F condition, double patienceS) {
    for (double waited = 0; waited < patienceS; waited += 0.02) {
      if (condition()) return true;
      std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    return false;
  }
};

}  // namespace ash::tests
