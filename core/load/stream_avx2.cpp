// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/stream_kernel.h"

#if defined(__x86_64__)
#include <immintrin.h>

namespace ash {
namespace {

constexpr size_t kWidth = 4;
constexpr size_t kUnroll = 4;

std::uint64_t sumOf(__m256i words) {
  std::uint64_t parts[kWidth], sum = 0;
  _mm256_storeu_si256(reinterpret_cast<__m256i*>(parts), words);
  for (const std::uint64_t part : parts) sum += part;
  return sum;
}

StreamSums triad(double* a, const double* b, const double* c, size_t count) {
  const __m256d half = _mm256_set1_pd(0.5);
  __m256i sumB[kUnroll] = {}, sumC[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k) {
      const __m256d x = _mm256_load_pd(b + i + k * kWidth), y = _mm256_load_pd(c + i + k * kWidth);
      sumB[k] = _mm256_add_epi64(sumB[k], _mm256_castpd_si256(x));
      sumC[k] = _mm256_add_epi64(sumC[k], _mm256_castpd_si256(y));
      _mm256_stream_pd(a + i + k * kWidth, _mm256_add_pd(_mm256_mul_pd(x, half), _mm256_mul_pd(y, half)));
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
  __m256i sumB[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k) {
      const __m256d x = _mm256_load_pd(b + i + k * kWidth);
      sumB[k] = _mm256_add_epi64(sumB[k], _mm256_castpd_si256(x));
      _mm256_stream_pd(a + i + k * kWidth, x);
    }
  }
  StreamSums sums;
  for (const __m256i& part : sumB) sums.b += sumOf(part);
  _mm_sfence();
  return sums;
}

StreamSums read(const double* b, size_t count) {
  __m256i sumB[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k)
      sumB[k] = _mm256_add_epi64(sumB[k], _mm256_castpd_si256(_mm256_load_pd(b + i + k * kWidth)));
  }
  StreamSums sums;
  for (const __m256i& part : sumB) sums.b += sumOf(part);
  return sums;
}

void write(double* a, double value, size_t count) {
  const __m256d x = _mm256_set1_pd(value);
  for (size_t i = 0; i < count; i += kWidth) _mm256_stream_pd(a + i, x);
  _mm_sfence();
}

StreamSums toggle(std::uint64_t* b, std::uint64_t mask, size_t count) {
  const __m256i flip = _mm256_set1_epi64x(static_cast<long long>(mask));
  __m256i sumB[kUnroll] = {};
  for (size_t i = 0; i < count; i += kWidth * kUnroll) {
#pragma GCC unroll 4
    for (size_t k = 0; k < kUnroll; ++k) {
      auto* place = reinterpret_cast<__m256i*>(b + i + k * kWidth);
      const __m256i x = _mm256_load_si256(place);
      sumB[k] = _mm256_add_epi64(sumB[k], x);
      _mm256_store_si256(place, _mm256_xor_si256(x, flip));
    }
  }
  StreamSums sums;
  for (const __m256i& part : sumB) sums.b += sumOf(part);
  return sums;
}

}  // namespace

StreamKernel streamAvx2() { return {"avx2", triad, copy, read, write, toggle}; }

}  // namespace ash
#endif
