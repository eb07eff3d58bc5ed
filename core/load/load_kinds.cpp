// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_kinds.h"

#include <fmt/format.h>
#include <sched.h>

#include <algorithm>
#include <array>
#include <thread>

namespace ash {
namespace {

struct Kind {
  const char* name;
  Result<std::unique_ptr<LoadPart>> (*make)(const LoadOptions&);
};
constexpr std::array kKinds = {Kind{"vector", makeVectorLoad},    Kind{"integer", makeIntegerLoad},
                               Kind{"cache", makeCacheLoad},      Kind{"memory", makeMemoryLoad},
                               Kind{"mixed", makeMixedLoad},      Kind{"storage", makeStorageLoad},
                               Kind{"graphics", makeGraphicsLoad}};

}  // namespace

std::vector<std::string> knownLoadKinds() {
  std::vector<std::string> names;
  for (const Kind& kind : kKinds) names.emplace_back(kind.name);
  names.emplace_back("command");
  return names;
}

Result<std::unique_ptr<LoadPart>> makeLoadPart(const LoadOptions& options) {
  for (const Kind& kind : kKinds) {
    if (options.kind != kind.name) continue;
    auto part = kind.make(options);
    return part;
  }
  return Error::badInput(fmt::format("The load \"{}\" does no work in this process.", options.kind));
}

int usableCpuCount() {
  cpu_set_t set;
  CPU_ZERO(&set);
  if (sched_getaffinity(0, sizeof set, &set) != 0)
    return std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
  return std::max(1, CPU_COUNT(&set));
}

}  // namespace ash
