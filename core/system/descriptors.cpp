// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/descriptors.h"

#include <sys/resource.h>

#include <algorithm>

namespace ash {

void raiseDescriptorLimit() {
  rlimit limit{};
  if (getrlimit(RLIMIT_NOFILE, &limit) != 0 || limit.rlim_cur >= limit.rlim_max) return;
  limit.rlim_cur = limit.rlim_max;
  setrlimit(RLIMIT_NOFILE, &limit);
}

size_t descriptorLimit() {
  rlimit limit{};
  return getrlimit(RLIMIT_NOFILE, &limit) == 0 ? static_cast<size_t>(limit.rlim_cur) : kUsualDescriptors;
}

void lowerDescriptorLimit() {
  rlimit limit{};
  if (getrlimit(RLIMIT_NOFILE, &limit) != 0) return;
  limit.rlim_cur = std::min<rlim_t>(limit.rlim_cur, kUsualDescriptors);
  setrlimit(RLIMIT_NOFILE, &limit);
}

}  // namespace ash
