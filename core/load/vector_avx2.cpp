// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/vector_kernel.h"

#if defined(__x86_64__)
#include <immintrin.h>
#endif

namespace ash {

#if defined(__x86_64__)
// Twelve independent chains hide the latency of the multiply-add unit (4 cycles, two per cycle) and fit the registers.
void runVectorAvx2(VectorLanes& lanes, size_t rounds) {
  using namespace vector_constants;
  constexpr size_t kChains = 12;
  constexpr size_t kWidth = 4;
  const __m256d a = _mm256_set1_pd(kA);
  const __m256d b = _mm256_set1_pd(kB);
  const __m256d inverse = _mm256_set1_pd(kInverseA);
  const __m256d minus = _mm256_set1_pd(kMinusBOverA);
  for (size_t first = 0; first < kVectorLanes; first += kChains * kWidth) {
    __m256d x[kChains];
    for (size_t i = 0; i < kChains; ++i) x[i] = _mm256_loadu_pd(&lanes[first + i * kWidth]);
    for (size_t round = 0; round < rounds; ++round) {
#pragma GCC unroll 12
      for (size_t i = 0; i < kChains; ++i) x[i] = _mm256_fmadd_pd(x[i], a, b);
#pragma GCC unroll 12
      for (size_t i = 0; i < kChains; ++i) x[i] = _mm256_fmadd_pd(x[i], inverse, minus);
    }
    for (size_t i = 0; i < kChains; ++i) _mm256_storeu_pd(&lanes[first + i * kWidth], x[i]);
  }
}
#endif

}  // namespace ash
