// SPDX-License-Identifier: GPL-3.0-or-later
// Runs a load inside this process until it is told to stop.
#pragma once

#include <functional>
#include <limits>
#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

struct LoadOptions {
  std::string kind = "vector";
  int threads = 0;  ///< 0 = one for each CPU this process may use
  double seconds = std::numeric_limits<double>::infinity();
  double dutyPercent = 100;                               ///< share of each tenth of a second that is worked
  double work = std::numeric_limits<double>::infinity();  ///< stop after so many work units (GFLOP for vector)
};

struct LoadReport {
  std::string kind;
  int threads = 0;
  double seconds = 0;
  double work = 0;  ///< work units done
  std::string unit = "GFLOP/s";
  long long errors = 0;  ///< blocks whose result was wrong: an unstable machine
  std::vector<double> perSecond;
  std::string variant;
  std::string precision = "fp64";
};

/// What has been done up to now, told four times a second while the load runs.
struct LoadProgress {
  double seconds = 0;
  double work = 0;
  long long errors = 0;
};

/// Kinds that runLoad() knows.
std::vector<std::string> knownLoadKinds();

/// Works until time or work is up or `shouldStop` says so; it is asked every 20 ms. Blocks; uses threads of its own and
/// starts no new block later than 50 ms after the end.
Result<LoadReport> runLoad(const LoadOptions& options, const std::function<bool()>& shouldStop,
                           const std::function<void(const LoadProgress&)>& onProgress);

/// CPUs that this process may use (sched_getaffinity).
int usableCpuCount();

}  // namespace ash
