// SPDX-License-Identifier: GPL-3.0-or-later
// Another program started in a process group of its own, with nothing of ours but what it is given.
#pragma once

#include <sys/types.h>

#include <string>
#include <utility>
#include <vector>

namespace ash {

/// Starts `arguments[0]` (a path) with these arguments. `files`: which of our descriptors becomes which of its own. In
/// a process group of its own, so that Ctrl-C in a terminal reaches only who started it and all of it can be ended at
/// once; no signal is blocked there, and SIGPIPE ends it as usual. 0, or the errno of posix_spawn(3).
int spawnInGroup(const std::vector<std::string>& arguments, const std::vector<std::pair<int, int>>& files, pid_t& pid);

}  // namespace ash
