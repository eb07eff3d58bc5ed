// SPDX-License-Identifier: GPL-3.0-or-later
// The stream kernels over vectors of any width. Included once for each instruction set, with a `V` of that file's own
// that names its registers and instructions.
#pragma once

#include <xmmintrin.h>

#include "load/stream_kernel.h"

namespace ash {

template <typename V>
struct VectorStream {
  static constexpr size_t kUnroll = 4;
  using Word = typename V::Word;
  using Double = typename V::Double;

  static std::uint64_t sumOf(const Word (&words)[kUnroll]) {
    std::uint64_t sum = 0;
    for (const Word& word : words) {
      std::uint64_t parts[V::kWidth];
      V::storeAnywhere(parts, word);
      for (const std::uint64_t part : parts) sum += part;
    }
    return sum;
  }

  static StreamSums triad(double* a, const double* b, const double* c, size_t count) {
    const Double half = V::set(0.5);
    Word sumB[kUnroll] = {}, sumC[kUnroll] = {};
    for (size_t i = 0; i < count; i += V::kWidth * kUnroll) {
#pragma GCC unroll 4
      for (size_t k = 0; k < kUnroll; ++k) {
        const Double x = V::load(b + i + k * V::kWidth), y = V::load(c + i + k * V::kWidth);
        sumB[k] = V::add(sumB[k], V::bits(x));
        sumC[k] = V::add(sumC[k], V::bits(y));
        V::stream(a + i + k * V::kWidth, V::plus(V::times(x, half), V::times(y, half)));
      }
    }
    _mm_sfence();
    return {sumOf(sumB), sumOf(sumC)};
  }

  static StreamSums copy(double* a, const double* b, size_t count) {
    Word sumB[kUnroll] = {};
    for (size_t i = 0; i < count; i += V::kWidth * kUnroll) {
#pragma GCC unroll 4
      for (size_t k = 0; k < kUnroll; ++k) {
        const Double x = V::load(b + i + k * V::kWidth);
        sumB[k] = V::add(sumB[k], V::bits(x));
        V::stream(a + i + k * V::kWidth, x);
      }
    }
    _mm_sfence();
    return {sumOf(sumB), 0};
  }

  static StreamSums read(const double* b, size_t count) {
    Word sumB[kUnroll] = {};
    for (size_t i = 0; i < count; i += V::kWidth * kUnroll) {
#pragma GCC unroll 4
      for (size_t k = 0; k < kUnroll; ++k) sumB[k] = V::add(sumB[k], V::bits(V::load(b + i + k * V::kWidth)));
    }
    return {sumOf(sumB), 0};
  }

  static void write(double* a, double value, size_t count) {
    const Double x = V::set(value);
    for (size_t i = 0; i < count; i += V::kWidth) V::stream(a + i, x);
    _mm_sfence();
  }

  static StreamSums toggle(std::uint64_t* b, std::uint64_t mask, size_t count) {
    const Word flip = V::setWord(static_cast<long long>(mask));
    Word sumB[kUnroll] = {};
    for (size_t i = 0; i < count; i += V::kWidth * kUnroll) {
#pragma GCC unroll 4
      for (size_t k = 0; k < kUnroll; ++k) {
        auto* place = reinterpret_cast<Word*>(b + i + k * V::kWidth);
        const Word x = V::loadWord(place);
        sumB[k] = V::add(sumB[k], x);
        V::storeWord(place, V::exclusiveOr(x, flip));
      }
    }
    return {sumOf(sumB), 0};
  }

  static StreamKernel kernel(const char* name) { return {name, triad, copy, read, write, toggle}; }
};

}  // namespace ash
