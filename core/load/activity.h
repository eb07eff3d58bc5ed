// SPDX-License-Identifier: GPL-3.0-or-later
// Loads that run now tell so in the runtime folder; the stand-in machine warms up by it.
#pragma once

#include <string>
#include <vector>

#include "load/load_worker.h"

namespace ash {

struct ActiveLoad {
  int pid = 0;
  std::string kind;
  double share = 0;  ///< of the machine's CPUs, 0..1
};

/// While it lives, this process is listed as a load. Failing to write is no error: the load itself matters more.
class LoadBeacon {
 public:
  explicit LoadBeacon(const LoadOptions& options);
  LoadBeacon(const LoadBeacon&) = delete;
  LoadBeacon& operator=(const LoadBeacon&) = delete;
  ~LoadBeacon();

 private:
  std::string m_path;
};

/// Loads of this user that run at this moment. A load that was killed or is stopped does not count.
std::vector<ActiveLoad> activeLoads();

}  // namespace ash
