// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/gpu_metrics.h"

#include <array>
#include <limits>

namespace ash {
namespace {

/// Where the fields stand: bytes from the begin of the table, little endian. 0 = not there.
struct Layout {
  int format, revision;
  size_t leastSize;
  size_t chipBits;         // u32 throttle_status
  size_t independentBits;  // u64 indep_throttle_status
};
constexpr Layout kLayouts[] = {
    {1, 1, 96, 68, 0},     {1, 2, 104, 68, 0},    {1, 3, 120, 68, 112},   // cards
    {2, 2, 128, 108, 120}, {2, 3, 128, 108, 120}, {2, 4, 128, 108, 120},  // chips with a processor
};

struct Bit {
  int number;
  const char* words;
};
constexpr Bit kBits[] = {{0, "power (PPT0)"},
                         {1, "power (PPT1)"},
                         {2, "power (PPT2)"},
                         {3, "power (PPT3)"},
                         {4, "power (SPL)"},
                         {5, "power (fast PPT)"},
                         {6, "power (slow PPT)"},
                         {7, "power of the whole chip"},
                         {16, "current, graphics"},
                         {17, "current, SoC"},
                         {18, "current, memory"},
                         {19, "current, VDD"},
                         {20, "current, CVIP"},
                         {21, "peak current, CPU"},
                         {22, "peak current, graphics"},
                         {23, "APCC"},
                         {32, "temperature"},
                         {33, "core temperature"},
                         {34, "memory temperature"},
                         {35, "edge temperature"},
                         {36, "hotspot temperature"},
                         {37, "SoC temperature"},
                         {38, "regulator temperature, graphics"},
                         {39, "regulator temperature, SoC"},
                         {40, "regulator temperature, memory 0"},
                         {41, "regulator temperature, memory 1"},
                         {42, "coolant temperature 0"},
                         {43, "coolant temperature 1"},
                         {44, "regulator too hot 0"},
                         {45, "regulator too hot 1"},
                         {46, "heat signal, CPU"},
                         {47, "heat signal, graphics"},
                         {56, "PPM"},
                         {57, "FIT"}};

uint64_t littleEndian(std::string_view table, size_t at, size_t bytes) {
  uint64_t value = 0;
  for (size_t i = 0; i < bytes; ++i) value |= static_cast<uint64_t>(static_cast<uint8_t>(table[at + i])) << (8 * i);
  return value;
}

}  // namespace

std::optional<GpuThrottleBits> parseGpuThrottle(std::string_view table) {
  if (table.size() < 4) return std::nullopt;
  const size_t size = littleEndian(table, 0, 2);
  const auto format = static_cast<int>(littleEndian(table, 2, 1));
  const auto revision = static_cast<int>(littleEndian(table, 3, 1));
  for (const Layout& layout : kLayouts) {
    if (layout.format != format || layout.revision != revision) continue;
    if (size < layout.leastSize || table.size() < layout.leastSize) return std::nullopt;
    if (layout.independentBits != 0) {
      const uint64_t bits = littleEndian(table, layout.independentBits, 8);
      if (bits == std::numeric_limits<uint64_t>::max()) return std::nullopt;
      return GpuThrottleBits{bits, true};
    }
    const uint64_t bits = littleEndian(table, layout.chipBits, 4);
    if (bits == std::numeric_limits<uint32_t>::max()) return std::nullopt;
    return GpuThrottleBits{bits, false};
  }
  return std::nullopt;
}

std::vector<std::string> gpuThrottleWords(uint64_t chipIndependentBits) {
  std::vector<std::string> words;
  for (const Bit& bit : kBits) {
    if ((chipIndependentBits >> bit.number & 1U) != 0) words.emplace_back(bit.words);
  }
  return words;
}

}  // namespace ash
