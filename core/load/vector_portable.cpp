// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/vector_kernel.h"

namespace ash {

// Plain C++ with two roundings per multiply-add; the compiler may use whatever vectors the base architecture has.
void runVectorPortable(VectorLanes& lanes, size_t rounds) {
  using namespace vector_constants;
  constexpr size_t kChunk = 12;
  static_assert(kVectorLanes % kChunk == 0);
  for (size_t first = 0; first < kVectorLanes; first += kChunk) {
    double x[kChunk];
    for (size_t i = 0; i < kChunk; ++i) x[i] = lanes[first + i];
    for (size_t round = 0; round < rounds; ++round) {
      for (double& value : x) value = value * kA + kB;
      for (double& value : x) value = value * kInverseA + kMinusBOverA;
    }
    for (size_t i = 0; i < kChunk; ++i) lanes[first + i] = x[i];
  }
}

}  // namespace ash
