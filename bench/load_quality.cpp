// SPDX-License-Identifier: GPL-3.0-or-later
// Each load against its reference, in rounds that take turns: the median of the paired ratios of work per CPU second.
// Rounds in which more than 1 % of the machine's time was stolen are not judged. Usage: load_quality [ROUNDS]
#include <dlfcn.h>
#include <fmt/format.h>
#if defined(__x86_64__)
#include <immintrin.h>
#endif

#include <algorithm>
#include <cstdlib>
#include <ctime>
#include <fstream>
#include <functional>
#include <vector>

#include "load/aligned_memory.h"
#include "load/load_kinds.h"

using namespace ash;

namespace {

constexpr double kRoundS = 0.3;

double cpuS() {
  timespec now{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
  return static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) * 1e-9;
}

struct CpuTimes {
  double stolen = 0, all = 0;
};

// The first line of /proc/stat (proc(5)); the eighth number is stolen time.
CpuTimes readTimes() {
  std::ifstream file("/proc/stat");
  std::string word;
  file >> word;
  CpuTimes times;
  double value = 0;
  for (int i = 0; i < 8 && file >> value; ++i) {
    times.all += value;
    if (i == 7) times.stolen = value;
  }
  return times;
}

/// Work per CPU second of whatever does a bit of work per call.
double rateOf(const std::function<double()>& bit) {
  const double startS = cpuS();
  double work = 0, elapsedS = 0;
  while ((elapsedS = cpuS() - startS) < kRoundS) work += bit();
  return work / elapsedS;
}

double median(std::vector<double> values) {
  if (values.empty()) return 0;
  std::sort(values.begin(), values.end());
  return values[values.size() / 2];
}

void compare(const std::string& name, const std::string& reference, int rounds, const std::function<double()>& ours,
             const std::function<double()>& theirs) {
  std::vector<double> ratios, rates;
  int notJudged = 0;
  static_cast<void>(ours());
  static_cast<void>(theirs());
  for (int i = 0; i < rounds; ++i) {
    const CpuTimes before = readTimes();
    // Who goes first changes from round to round.
    double a = 0, b = 0;
    if (i % 2 == 0) a = rateOf(ours);
    b = rateOf(theirs);
    if (i % 2 == 1) a = rateOf(ours);
    const CpuTimes after = readTimes();
    if (after.stolen - before.stolen > 0.01 * (after.all - before.all)) {
      ++notJudged;
      continue;
    }
    ratios.push_back(a / b);
    rates.push_back(a);
  }
  if (ratios.empty()) return fmt::print("{:8} against {:28} not judged in any of {} rounds\n", name, reference, rounds);
  const auto [low, high] = std::minmax_element(ratios.begin(), ratios.end());
  fmt::print("{:8} against {:28} {:.3f} ({:.3f} to {:.3f}); {:.4g} a CPU second; {} rounds, {} not judged\n", name,
             reference, median(ratios), *low, *high, median(rates), ratios.size(), notJudged);
}

std::function<double()> loadBit(LoadOptions options) {
  options.threads = 1;
  auto part = makeLoadPart(options);
  if (!part) {
    fmt::print("{}\n", part.error().message);
    std::exit(1);
  }
  const std::shared_ptr<LoadPart> kept = std::move(*part);
  const std::shared_ptr<LoadThread> thread = std::move(*kept->makeThread(0, {}));
  return [kept, thread] { return thread->block(false).work; };
}

#if defined(__x86_64__)
// Nothing but multiply-adds in registers, nothing checked, nothing loaded.
__attribute__((target("avx512f"), noinline)) double fmaRegisters512(size_t rounds) {
  __m512d x[16];
  for (int i = 0; i < 16; ++i) x[i] = _mm512_set1_pd(1.0 + i);
  const __m512d a = _mm512_set1_pd(0.999), b = _mm512_set1_pd(0.001);
  for (size_t r = 0; r < rounds; ++r) {
#pragma GCC unroll 16
    for (auto& lane : x) lane = _mm512_fmadd_pd(lane, a, b);
  }
  __m512d sum = x[0];
  for (int i = 1; i < 16; ++i) sum = _mm512_add_pd(sum, x[i]);
  double lanes[8];
  _mm512_storeu_pd(lanes, sum);
  volatile double keep = lanes[0] + lanes[7];
  static_cast<void>(keep);
  return 2.0 * 16 * 8 * static_cast<double>(rounds) / 1e9;
}

__attribute__((target("avx2,fma"), noinline)) double fmaRegisters256(size_t rounds) {
  __m256d x[12];
  for (int i = 0; i < 12; ++i) x[i] = _mm256_set1_pd(1.0 + i);
  const __m256d a = _mm256_set1_pd(0.999), b = _mm256_set1_pd(0.001);
  for (size_t r = 0; r < rounds; ++r) {
#pragma GCC unroll 12
    for (auto& lane : x) lane = _mm256_fmadd_pd(lane, a, b);
  }
  __m256d sum = x[0];
  for (int i = 1; i < 12; ++i) sum = _mm256_add_pd(sum, x[i]);
  volatile double keep = sum[0];
  static_cast<void>(keep);
  return 2.0 * 12 * 4 * static_cast<double>(rounds) / 1e9;
}

// Eight streams of loads and stores past the caches, prefetched, nothing checked.
__attribute__((target("avx512f"), noinline)) void plainTriad(double* a, const double* b, const double* c,
                                                             size_t count) {
  const __m512d scale = _mm512_set1_pd(0.5);
  for (size_t i = 0; i < count; i += 32) {
#pragma GCC unroll 4
    for (size_t k = 0; k < 32; k += 8) {
      _mm_prefetch(reinterpret_cast<const char*>(b + i + k + 128), _MM_HINT_T0);
      _mm_prefetch(reinterpret_cast<const char*>(c + i + k + 128), _MM_HINT_T0);
      _mm512_stream_pd(a + i + k, _mm512_fmadd_pd(_mm512_load_pd(c + i + k), scale, _mm512_load_pd(b + i + k)));
    }
  }
  _mm_sfence();
}
#endif

using Dgemm = void (*)(int, int, int, int, int, int, double, const double*, int, const double*, int, double, double*,
                       int);

std::function<double()> dgemmBit() {
  void* library = dlopen("libopenblas.so.0", RTLD_NOW);
  if (library == nullptr) return {};
  setenv("OPENBLAS_NUM_THREADS", "1", 1);
  if (auto* threads = reinterpret_cast<void (*)(int)>(dlsym(library, "openblas_set_num_threads"))) threads(1);
  const auto dgemm = reinterpret_cast<Dgemm>(dlsym(library, "cblas_dgemm"));
  if (dgemm == nullptr) return {};
  constexpr int kSize = 512;
  const auto matrix = std::make_shared<std::vector<double>>(size_t{3} * kSize * kSize, 0.5);
  return [dgemm, matrix] {
    double* a = matrix->data();
    dgemm(101, 111, 111, kSize, kSize, kSize, 1e-3, a, kSize, a + kSize * kSize, kSize, 0, a + 2 * kSize * kSize,
          kSize);
    return 2.0 * kSize * kSize * kSize / 1e9;
  };
}

}  // namespace

int main(int count, char** arguments) {
  const int rounds = count > 1 ? std::atoi(arguments[1]) : 21;
#if defined(__x86_64__)
  LoadOptions options;
  const bool isWide = __builtin_cpu_supports("avx512f");
  compare("vector", "FMA loop in registers", rounds, loadBit(options),
          [isWide] { return isWide ? fmaRegisters512(50'000) : fmaRegisters256(50'000); });
  if (const auto dgemm = dgemmBit())
    compare("vector", "packaged BLAS, dgemm 512", rounds, loadBit(options), dgemm);
  else
    fmt::print("no libopenblas.so.0 here: install libopenblas0-pthread to compare with its dgemm\n");
  if (isWide) {
    options.kind = LoadKind::Memory;
    const size_t doubles = size_t{1} << 24;
    auto memory = AlignedMemory::make(3 * doubles * sizeof(double));
    if (!memory) return 1;
    auto* base = static_cast<double*>(memory->data());
    std::fill(base, base + 3 * doubles, 0.25);
    size_t at = 0;
    constexpr size_t kBit = size_t{1} << 17;
    options.memoryMb = 3.0 * static_cast<double>(doubles) * 8 / 1e6;
    compare("memory", "plain streaming triad", rounds, loadBit(options), [&] {
      plainTriad(base + at, base + doubles + at, base + 2 * doubles + at, kBit);
      at = (at + kBit) % doubles;
      return 3.0 * kBit * sizeof(double) / 1e9;
    });
  }
#endif
}
