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
  LoadKind::Known kind;
  Result<std::unique_ptr<LoadPart>> (*make)(const LoadOptions&);
};
constexpr std::array kKinds = {Kind{LoadKind::Vector, makeVectorLoad},    Kind{LoadKind::Integer, makeIntegerLoad},
                               Kind{LoadKind::Cache, makeCacheLoad},      Kind{LoadKind::Memory, makeMemoryLoad},
                               Kind{LoadKind::Mixed, makeMixedLoad},      Kind{LoadKind::Storage, makeStorageLoad},
                               Kind{LoadKind::Graphics, makeGraphicsLoad}};

}  // namespace

std::vector<std::string> knownLoadKinds() {
  std::vector<std::string> names;
  for (const std::string_view word : LoadWords::kWords) names.emplace_back(word);
  return names;
}

Result<std::unique_ptr<LoadPart>> makeLoadPart(const LoadOptions& options) {
  for (const Kind& kind : kKinds) {
    if (options.kind != kind.kind) continue;
    auto part = kind.make(options);
    return part;
  }
  return Error::badInput(fmt::format("The load \"{}\" does no work in this process.", options.kind.text()));
}

int usableCpuCount() {
  cpu_set_t set;
  CPU_ZERO(&set);
  if (sched_getaffinity(0, sizeof set, &set) != 0)
    return std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
  return std::max(1, CPU_COUNT(&set));
}

}  // namespace ash
