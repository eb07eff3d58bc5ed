// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/stream_kernel.h"

#if defined(__x86_64__)
#include <immintrin.h>

#include "load/stream_vectors.h"

namespace ash {
namespace {

struct Registers {
  using Double = __m256d;
  using Word = __m256i;
  static constexpr size_t kWidth = 4;
  static Double set(double value) { return _mm256_set1_pd(value); }
  static Double load(const double* place) { return _mm256_load_pd(place); }
  static void stream(double* place, Double value) { _mm256_stream_pd(place, value); }
  static Double plus(Double a, Double b) { return _mm256_add_pd(a, b); }
  static Double times(Double a, Double b) { return _mm256_mul_pd(a, b); }
  static Word bits(Double value) { return _mm256_castpd_si256(value); }
  static Word setWord(long long value) { return _mm256_set1_epi64x(value); }
  static Word loadWord(const Word* place) { return _mm256_load_si256(place); }
  static void storeWord(Word* place, Word value) { _mm256_store_si256(place, value); }
  static void storeAnywhere(void* place, Word value) { _mm256_storeu_si256(static_cast<Word*>(place), value); }
  static Word add(Word a, Word b) { return _mm256_add_epi64(a, b); }
  static Word exclusiveOr(Word a, Word b) { return _mm256_xor_si256(a, b); }
};

}  // namespace

StreamKernel streamAvx2() { return VectorStream<Registers>::kernel("avx2"); }

}  // namespace ash
#endif
