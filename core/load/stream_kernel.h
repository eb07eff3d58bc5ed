// SPDX-License-Identifier: GPL-3.0-or-later
// The inner loops of the loads `memory` and `cache`. Sums of the bit patterns of all that was read come for nothing
// where memory is what is waited for, and no single wrong bit leaves them as they were.
#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

namespace ash {

/// Sums modulo 2^64 of the words that were read.
struct StreamSums {
  std::uint64_t b = 0, c = 0;
};

/// `count` is a multiple of 32, the places are aligned to 64 bytes.
struct StreamKernel {
  std::string name;  ///< "avx512", "avx2", "portable"
  /// a[i] = b[i]/2 + c[i]/2, past the caches where the processor can.
  StreamSums (*triad)(double* a, const double* b, const double* c, size_t count);
  StreamSums (*copy)(double* a, const double* b, size_t count);
  StreamSums (*read)(const double* b, size_t count);
  void (*write)(double* a, double value, size_t count);
  /// b[i] = b[i] xor mask, within the caches.
  StreamSums (*toggle)(std::uint64_t* b, std::uint64_t mask, size_t count);
};

/// The kernels this processor can run, fastest first. Never empty.
std::vector<StreamKernel> usableStreamKernels();

StreamKernel streamAvx512();
StreamKernel streamAvx2();
StreamKernel streamPortable();

}  // namespace ash
