// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_kinds.h"

#include <fmt/format.h>
#include <sched.h>

#include <algorithm>
#include <array>
#include <thread>

namespace ash {

// Each is in the file of its name.
extern const LoadKindRow kVectorLoad, kIntegerLoad, kCacheLoad, kMemoryLoad, kMixedLoad, kGraphicsLoad, kStorageLoad,
    kCommandLoad;

namespace {
constexpr std::array kRows = {&kVectorLoad, &kIntegerLoad,  &kCacheLoad,   &kMemoryLoad,
                              &kMixedLoad,  &kGraphicsLoad, &kStorageLoad, &kCommandLoad};
}

std::span<const LoadKindRow* const> loadKindRows() { return kRows; }

std::vector<std::string> knownLoadKinds() {
  std::vector<std::string> names;
  for (const std::string_view word : LoadWords::kWords) names.emplace_back(word);
  return names;
}

Result<std::unique_ptr<LoadPart>> makeLoadPart(const LoadOptions& options) {
  for (const LoadKindRow* row : kRows) {
    if (options.kind == row->kind && row->make != nullptr) return row->make(options);
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
