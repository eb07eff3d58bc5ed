// SPDX-License-Identifier: GPL-3.0-or-later
// The load `cache`: reads and writes that fit a chosen level of the caches, everything that is read is checked.
#include <fmt/format.h>

#include <algorithm>

#include "load/aligned_memory.h"
#include "load/cache_sizes.h"
#include "load/flip_bit.h"
#include "load/load_kinds.h"
#include "load/stream_kernel.h"

namespace ash {
namespace {

constexpr double kFits = 0.6;  // of the level: the rest is for everything else
constexpr size_t kBlockBytes = size_t{4} << 20;
constexpr std::uint64_t kWord = 0x5a5a3c3c0f0ff00f, kMask = 0xffff0000aaaa5555;

class CacheThread : public LoadThread {
 public:
  CacheThread(AlignedMemory memory, const StreamKernel& kernel)
      : m_memory(std::move(memory)), m_kernel(kernel), m_words(static_cast<std::uint64_t*>(m_memory.data())) {
    m_count = m_memory.size() / sizeof(std::uint64_t) / 32 * 32;
    fill();
  }

  BlockResult block(bool flip) override {
    if (flip) flipBit(m_words + m_count / 2, 33);
    long long wrong = 0;
    const size_t passes = std::max<size_t>(1, kBlockBytes / (m_count * sizeof(std::uint64_t)));
    for (size_t pass = 0; pass < passes && wrong == 0; ++pass) {
      wrong += m_kernel.toggle(m_words, kMask, m_count).b != m_value * m_count;
      m_value ^= kMask;
    }
    if (wrong > 0) fill();
    // Read and written.
    const double gigabytes = 2.0 * static_cast<double>(passes * m_count * sizeof(std::uint64_t)) / 1e9;
    return {wrong > 0 ? 0 : gigabytes, wrong, {}};
  }

 private:
  void fill() {
    m_value = kWord;
    std::fill(m_words, m_words + m_count, m_value);
  }
  AlignedMemory m_memory;
  const StreamKernel m_kernel;
  std::uint64_t* m_words;
  size_t m_count = 0;
  std::uint64_t m_value = kWord;
};

class CacheLoad : public LoadPart {
 public:
  CacheLoad(const StreamKernel& kernel, int level, size_t bytes) : m_kernel(kernel), m_bytes(bytes) {
    unit = "GB/s";
    variant = kernel.name;
    pattern = fmt::format("level {}", level);
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int, const std::stop_token&) override {
    auto memory = AlignedMemory::make(m_bytes);
    if (!memory) return memory.error();
    return std::unique_ptr<LoadThread>(std::make_unique<CacheThread>(std::move(*memory), m_kernel));
  }

 private:
  StreamKernel m_kernel;
  size_t m_bytes;
};

constexpr LoadField kCacheFields[] = {{"level",
                                       "--level",
                                       "Cache level that the cache load fits",
                                       &LoadOptions::cacheLevel,
                                       {1, 4},
                                       "The cache level must be from 1 to 4."}};

Result<std::unique_ptr<LoadPart>> makeCache(const LoadOptions& options) {
  const int threads = options.threads > 0 ? options.threads : usableCpuCount();
  double bytes = options.memoryMb > 0 ? options.memoryMb * 1e6 / threads : 0;
  if (bytes <= 0) {
    const auto levels = cacheLevels();
    const auto level = std::find_if(levels.begin(), levels.end(),
                                    [&](const CacheLevel& one) { return one.level == options.cacheLevel; });
    if (level == levels.end())
      return Error::badInput(fmt::format(
          "The kernel tells of no cache of level {} here; choose another (--level) or say its size (--memory).",
          options.cacheLevel));
    bytes = kFits * static_cast<double>(level->bytes) / std::min(threads, level->sharedBy);
  }
  const auto each = static_cast<size_t>(std::max(bytes, 4096.0));
  for (const StreamKernel& kernel : usableStreamKernels()) {
    if (options.variant.empty() || options.variant == kernel.name)
      return std::unique_ptr<LoadPart>(std::make_unique<CacheLoad>(kernel, options.cacheLevel, each));
  }
  return Error::badInput(fmt::format("This processor has no instruction set \"{}\" for the load.", options.variant));
}

}  // namespace

extern const LoadKindRow kCacheLoad;
constinit const LoadKindRow kCacheLoad = {LoadKind::Cache, makeCache, kCacheFields};

}  // namespace ash
