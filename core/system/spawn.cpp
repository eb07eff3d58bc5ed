// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/spawn.h"

#include <signal.h>
#include <spawn.h>
#include <unistd.h>

extern char** environ;

namespace ash {

int spawnInGroup(const std::vector<std::string>& arguments, const std::vector<std::pair<int, int>>& files, pid_t& pid) {
  std::vector<char*> raw;
  for (const std::string& argument : arguments) raw.push_back(const_cast<char*>(argument.c_str()));
  raw.push_back(nullptr);
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  for (const auto& [ours, its] : files) posix_spawn_file_actions_adddup2(&actions, ours, its);
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  sigset_t none, usual;
  sigemptyset(&none);
  sigemptyset(&usual);
  sigaddset(&usual, SIGPIPE);
  posix_spawnattr_setsigmask(&attributes, &none);
  posix_spawnattr_setsigdefault(&attributes, &usual);
  posix_spawnattr_setpgroup(&attributes, 0);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP | POSIX_SPAWN_SETSIGMASK | POSIX_SPAWN_SETSIGDEF);
  const int error = posix_spawn(&pid, raw[0], &actions, &attributes, raw.data(), environ);
  posix_spawn_file_actions_destroy(&actions);
  posix_spawnattr_destroy(&attributes);
  return error;
}

}  // namespace ash
