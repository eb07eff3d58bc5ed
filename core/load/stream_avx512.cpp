// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/stream_kernel.h"

#if defined(__x86_64__)
#include <immintrin.h>

namespace ash {
namespace {

constexpr size_t kWidth = 8;
constexpr size_t kUnroll = 4;

std::uint64_t sumOf(__m512i words) {
  std::uint64_t parts[kWidth], sum = 0;
  _mm512_storeu_si512(reinterpret_cast<__m512i*>(parts), words);
  for (const std::uint64_t part : parts) sum += part;
  return sum;
}

StreamSums triad(double* a, const double* b, const double* c, size_t count) {
  const __m512d half = _mm512_set1_pd(0.5);
  __m512i sumB[kUnroll] = {}, sumC[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k) {
      const __m512d x = _mm512_load_pd(b + i + k * kWidth), y = _mm512_load_pd(c + i + k * kWidth);
      sumB[k] = _mm512_add_epi64(sumB[k], _mm512_castpd_si512(x));
      sumC[k] = _mm512_add_epi64(sumC[k], _mm512_castpd_si512(y));
      _mm512_stream_pd(a + i + k * kWidth, _mm512_add_pd(_mm512_mul_pd(x, half), _mm512_mul_pd(y, half)));
    }
  }
  StreamSums sums;
  for (size_t k = 0; k < kUnroll; ++k) {
    sums.b += sumOf(sumB[k]);
    sums.c += sumOf(sumC[k]);
  }
  _mm_sfence();
  return sums;
}

StreamSums copy(double* a, const double* b, size_t count) {
  __m512i sumB[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k) {
      const __m512d x = _mm512_load_pd(b + i + k * kWidth);
      sumB[k] = _mm512_add_epi64(sumB[k], _mm512_castpd_si512(x));
      _mm512_stream_pd(a + i + k * kWidth, x);
    }
  }
  StreamSums sums;
  for (const __m512i& part : sumB) sums.b += sumOf(part);
  _mm_sfence();
  return sums;
}

StreamSums read(const double* b, size_t count) {
  __m512i sumB[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k)
      sumB[k] = _mm512_add_epi64(sumB[k], _mm512_castpd_si512(_mm512_load_pd(b + i + k * kWidth)));
  }
  StreamSums sums;
  for (const __m512i& part : sumB) sums.b += sumOf(part);
  return sums;
}

void write(double* a, double value, size_t count) {
  const __m512d x = _mm512_set1_pd(value);
  for (size_t i = 0; i < count; i += kWidth) _mm512_stream_pd(a + i, x);
  _mm_sfence();
}

StreamSums toggle(std::uint64_t* b, std::uint64_t mask, size_t count) {
  const __m512i flip = _mm512_set1_epi64(static_cast<long long>(mask));
  __m512i sumB[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k) {
      auto* place = reinterpret_cast<__m512i*>(b + i + k * kWidth);
      const __m512i x = _mm512_load_si512(place);
      sumB[k] = _mm512_add_epi64(sumB[k], x);
      _mm512_store_si512(place, _mm512_xor_si512(x, flip));
    }
  }
  StreamSums sums;
  for (const __m512i& part : sumB) sums.b += sumOf(part);
  return sums;
}

}  // namespace

StreamKernel streamAvx512() { return {"avx512", triad, copy, read, write, toggle}; }

}  // namespace ash
#endif
