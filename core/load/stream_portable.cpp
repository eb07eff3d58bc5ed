// SPDX-License-Identifier: GPL-3.0-or-later
#include <bit>

#include "load/stream_kernel.h"

namespace ash {
namespace {

std::uint64_t bits(double value) { return std::bit_cast<std::uint64_t>(value); }

StreamSums triad(double* a, const double* b, const double* c, size_t count) {
  StreamSums sums;
  for (size_t i = 0; i < count; ++i) {
    sums.b += bits(b[i]);
    sums.c += bits(c[i]);
    a[i] = b[i] * 0.5 + c[i] * 0.5;
  }
  return sums;
}

StreamSums copy(double* a, const double* b, size_t count) {
  StreamSums sums;
  for (size_t i = 0; i < count; ++i) {
    sums.b += bits(b[i]);
    a[i] = b[i];
  }
  return sums;
}

StreamSums read(const double* b, size_t count) {
  StreamSums sums;
  for (size_t i = 0; i < count; ++i) sums.b += bits(b[i]);
  return sums;
}

void write(double* a, double value, size_t count) {
  for (size_t i = 0; i < count; ++i) a[i] = value;
}

StreamSums toggle(std::uint64_t* b, std::uint64_t mask, size_t count) {
  StreamSums sums;
  for (size_t i = 0; i < count; ++i) {
    sums.b += b[i];
    b[i] ^= mask;
  }
  return sums;
}

}  // namespace

StreamKernel streamPortable() { return {"portable", triad, copy, read, write, toggle}; }

std::vector<StreamKernel> usableStreamKernels() {
  std::vector<StreamKernel> usable;
#if defined(__x86_64__)
  __builtin_cpu_init();
  if (__builtin_cpu_supports("avx512f")) usable.push_back(streamAvx512());
  if (__builtin_cpu_supports("avx2")) usable.push_back(streamAvx2());
#endif
  usable.push_back(streamPortable());
  return usable;
}

}  // namespace ash
