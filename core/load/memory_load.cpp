// SPDX-License-Identifier: GPL-3.0-or-later
// The load `memory`: streams beyond the last level of the caches, everything that is read is checked.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <bit>

#include "load/aligned_memory.h"
#include "load/cache_sizes.h"
#include "load/flip_bit.h"
#include "load/load_kinds.h"
#include "load/stream_kernel.h"

namespace ash {
namespace {

constexpr size_t kChunk = size_t{1} << 15;  // doubles of an array in one block: 256 KiB
constexpr double kCacheTimes = 4;           // the memory against the last level
constexpr size_t kLeastBytes = size_t{256} << 20;
constexpr double kMostOfFree = 0.5;
struct MemoryPatternWords {
  enum Known { Triad, Copy, Read, Write, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"triad", "copy", "read", "write"};
};
using MemoryPattern = OpenWord<MemoryPatternWords>;

/// All elements of an array are alike, so that the sum of what is read from any part of it is known.
struct Array {
  double* data = nullptr;
  double value = 0;
  double before = 0;  // of the part that has not been written anew in this pass
};

class MemoryThread : public LoadThread {
 public:
  MemoryThread(AlignedMemory memory, const StreamKernel& kernel, MemoryPattern::Known pattern)
      : m_memory(std::move(memory)), m_kernel(kernel), m_pattern(pattern) {
    const size_t doubles = m_memory.size() / sizeof(double) / 3;
    m_chunks = std::max<size_t>(1, doubles / kChunk);
    const double values[] = {1.0 / 3, 2.0 / 7, 3.0 / 11};
    for (size_t k = 0; k < 3; ++k)
      fill(m_arrays[k], static_cast<double*>(m_memory.data()) + k * m_chunks * kChunk, values[k]);
  }

  BlockResult block(bool flip) override {
    // Last pass's target is the newest: the oldest of the three is written now.
    Array& a = m_arrays[m_pass % 3];
    Array& b = m_arrays[(m_pass + 1) % 3];
    Array& c = m_arrays[(m_pass + 2) % 3];
    const size_t from = m_chunk * kChunk;
    if (flip) flipBit((m_pattern == MemoryPattern::Write ? a : b).data + from + 77, 3);
    const bool isRight = m_pattern == MemoryPattern::Triad  ? triad(a, b, c, from)
                         : m_pattern == MemoryPattern::Copy ? copy(a, b, from)
                         : m_pattern == MemoryPattern::Read ? isSum(m_kernel.read(b.data + from, kChunk).b, b.value)
                                                            : write(a, from, flip);
    advance(a, b, c);
    // What was wrong is made right again, so that it counts once.
    if (!isRight) refill();
    const double arrays = m_pattern == MemoryPattern::Triad ? 3 : m_pattern == MemoryPattern::Copy ? 2 : 1;
    const double gigabytes = arrays * static_cast<double>(kChunk * sizeof(double)) / 1e9;
    return {isRight ? gigabytes : 0, isRight ? 0 : 1, {}};
  }

 private:
  static bool isSum(std::uint64_t sum, double value) { return sum == std::bit_cast<std::uint64_t>(value) * kChunk; }

  void fill(Array& array, double* data, double value) {
    array.data = data;
    array.value = value;
    std::fill(data, data + m_chunks * kChunk, value);
  }
  void refill() {
    for (Array& array : m_arrays) std::fill(array.data, array.data + m_chunks * kChunk, array.value);
    m_chunk = 0;
  }

  bool triad(Array& a, const Array& b, const Array& c, size_t from) {
    const StreamSums sums = m_kernel.triad(a.data + from, b.data + from, c.data + from, kChunk);
    return isSum(sums.b, b.value) && isSum(sums.c, c.value);
  }
  bool copy(Array& a, const Array& b, size_t from) {
    return isSum(m_kernel.copy(a.data + from, b.data + from, kChunk).b, b.value);
  }
  // One line of each page is read back from what was written a chunk ago: reading all would be another pattern.
  bool write(Array& a, size_t from, bool flip) {
    if (!flip) m_kernel.write(a.data + from, a.value, kChunk);
    bool isRight = true;
    for (size_t i = 5; i < kChunk; i += 72) isRight &= a.data[from + i] == a.value;
    return isRight;
  }

  void advance(Array& a, const Array& b, const Array& c) {
    if (++m_chunk < m_chunks) return;
    m_chunk = 0;
    ++m_pass;
    if (m_pattern == MemoryPattern::Triad) a.value = b.value * 0.5 + c.value * 0.5;
    if (m_pattern == MemoryPattern::Copy) a.value = b.value;
  }

  AlignedMemory m_memory;
  const StreamKernel m_kernel;
  const MemoryPattern::Known m_pattern;
  std::array<Array, 3> m_arrays;
  size_t m_chunks = 0, m_chunk = 0, m_pass = 0;
};

class MemoryLoad : public LoadPart {
 public:
  MemoryLoad(const StreamKernel& kernel, const MemoryPattern& chosen, size_t bytesPerThread)
      : m_kernel(kernel), m_pattern(chosen), m_bytes(bytesPerThread) {
    unit = "GB/s";
    variant = kernel.name;
    precision = "fp64";
    pattern = chosen.text();
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int, const std::stop_token&) override {
    auto memory = AlignedMemory::make(m_bytes);
    if (!memory) return memory.error();
    return std::unique_ptr<LoadThread>(std::make_unique<MemoryThread>(std::move(*memory), m_kernel, m_pattern));
  }

 private:
  StreamKernel m_kernel;
  MemoryPattern::Known m_pattern;
  size_t m_bytes;
};

Result<std::unique_ptr<LoadPart>> makeMemory(const LoadOptions& options) {
  const MemoryPattern pattern =
      options.pattern.empty() ? MemoryPattern(MemoryPattern::Triad) : MemoryPattern::fromText(options.pattern);
  if (pattern == MemoryPattern::Other)
    return Error::badInput(fmt::format("The memory load has no pattern \"{}\"; it has: {}.", pattern.text(),
                                       fmt::join(MemoryPattern::kWords, ", ")));
  const auto caches = cacheLevels();
  const double last = caches.empty() ? 32e6 : static_cast<double>(caches.back().bytes);
  const auto free = static_cast<double>(availableMemoryBytes());
  double bytes =
      options.memoryMb > 0 ? options.memoryMb * 1e6 : std::max(kCacheTimes * last, static_cast<double>(kLeastBytes));
  if (free > 0 && bytes > kMostOfFree * free && options.memoryMb > 0)
    return Error::environment(fmt::format(
        "The memory load was to take {:.0f} MB of {:.0f} MB that are free; take half of them at most (--memory).",
        bytes / 1e6, free / 1e6));
  if (free > 0) bytes = std::min(bytes, kMostOfFree * free);
  const int threads = options.threads > 0 ? options.threads : usableCpuCount();
  const double least = 3.0 * kChunk * sizeof(double);
  const auto each = static_cast<size_t>(std::max(bytes / threads, least));
  for (const StreamKernel& kernel : usableStreamKernels()) {
    if (options.variant.empty() || options.variant == kernel.name)
      return std::unique_ptr<LoadPart>(std::make_unique<MemoryLoad>(kernel, pattern, each));
  }
  return Error::badInput(fmt::format("This processor has no instruction set \"{}\" for the load.", options.variant));
}

}  // namespace

extern const LoadKindRow kMemoryLoad;
constinit const LoadKindRow kMemoryLoad = {LoadKind::Memory, makeMemory};

}  // namespace ash
