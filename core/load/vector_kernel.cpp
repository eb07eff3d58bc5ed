// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/vector_kernel.h"

#include <cmath>

namespace ash {

std::vector<VectorVariant> usableVectorVariants() {
  std::vector<VectorVariant> usable;
#if defined(__x86_64__)
  __builtin_cpu_init();
  if (__builtin_cpu_supports("avx512f")) usable.push_back({"avx512", runVectorAvx512, true});
  if (__builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma")) usable.push_back({"avx2", runVectorAvx2, true});
#endif
  usable.push_back({"portable", runVectorPortable, false});
  return usable;
}

VectorLanes vectorStart() {
  VectorLanes lanes;
  for (size_t i = 0; i < kVectorLanes; ++i) lanes[i] = 1.0 + static_cast<double>(i) / 7.0;
  return lanes;
}

VectorLanes vectorReference(size_t rounds, bool isFused) {
  using namespace vector_constants;
  VectorLanes lanes = vectorStart();
  for (double& lane : lanes) {
    volatile double x = lane;  // volatile: every rounding happens where it is written, whatever the compiler would like
    for (size_t i = 0; i < rounds; ++i) {
      if (isFused) {
        x = std::fma(x, kA, kB);
        x = std::fma(x, kInverseA, kMinusBOverA);
      } else {
        x = x * kA;
        x = x + kB;
        x = x * kInverseA;
        x = x + kMinusBOverA;
      }
    }
    lane = x;
  }
  return lanes;
}

}  // namespace ash
