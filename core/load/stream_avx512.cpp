// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/stream_kernel.h"

#if defined(__x86_64__)
#include <immintrin.h>

#include "load/stream_vectors.h"

namespace ash {
namespace {

struct Registers {
  using Double = __m512d;
  using Word = __m512i;
  static constexpr size_t kWidth = 8;
  static Double set(double value) { return _mm512_set1_pd(value); }
  static Double load(const double* place) { return _mm512_load_pd(place); }
  static void stream(double* place, Double value) { _mm512_stream_pd(place, value); }
  static Double plus(Double a, Double b) { return _mm512_add_pd(a, b); }
  static Double times(Double a, Double b) { return _mm512_mul_pd(a, b); }
  static Word bits(Double value) { return _mm512_castpd_si512(value); }
  static Word setWord(long long value) { return _mm512_set1_epi64(value); }
  static Word loadWord(const Word* place) { return _mm512_load_si512(place); }
  static void storeWord(Word* place, Word value) { _mm512_store_si512(place, value); }
  static void storeAnywhere(void* place, Word value) { _mm512_storeu_si512(static_cast<Word*>(place), value); }
  static Word add(Word a, Word b) { return _mm512_add_epi64(a, b); }
  static Word exclusiveOr(Word a, Word b) { return _mm512_xor_si512(a, b); }
};

}  // namespace

StreamKernel streamAvx512() { return VectorStream<Registers>::kernel("avx512"); }

}  // namespace ash
#endif
