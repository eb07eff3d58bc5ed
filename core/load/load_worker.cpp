// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_worker.h"

#include <fmt/format.h>
#include <sched.h>
#include <sys/resource.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstring>
#include <thread>

#include "load/vector_kernel.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr auto kWatchEvery = std::chrono::milliseconds(20);
constexpr double kDutyPeriodS = 0.1;
constexpr int kBelowWatch = 4;
constexpr double kTellEveryS = 0.25;

/// Blocks done and found wrong, counted by all threads.
struct Counters {
  std::atomic<long long> blocks{0};
  std::atomic<long long> errors{0};
};

// Works for the share of each period that the duty allows, and rests for the remainder.
void workUntilStopped(const VectorVariant& variant, const VectorLanes& expected, double dutyPercent, Counters& counters,
                      std::stop_token stop) {
  // Below the thread that watches over them (on Linux a thread has a priority of its own, sched(7)).
  setpriority(PRIO_PROCESS, 0, std::min(19, getpriority(PRIO_PROCESS, 0) + kBelowWatch));
  const double busyS = kDutyPeriodS * dutyPercent / 100;
  double periodStartS = monotonicS();
  while (!stop.stop_requested()) {
    VectorLanes lanes = vectorStart();
    variant.run(lanes, kVectorRounds);
    if (std::memcmp(lanes.data(), expected.data(), sizeof lanes) != 0) ++counters.errors;
    ++counters.blocks;
    if (dutyPercent >= 100) continue;
    const double nowS = monotonicS();
    if (nowS - periodStartS < busyS) continue;
    const double restS = std::max(0.0, periodStartS + kDutyPeriodS - nowS);
    std::this_thread::sleep_for(std::chrono::duration<double>(restS));
    periodStartS = monotonicS();
  }
}

Status checkOptions(const LoadOptions& options) {
  const auto kinds = knownLoadKinds();
  if (std::find(kinds.begin(), kinds.end(), options.kind) == kinds.end()) {
    return Error::badInput(fmt::format("There is no load \"{}\" in this version; it has: vector.", options.kind));
  }
  if (options.threads < 0 || options.threads > 4096)
    return Error::badInput("The number of threads must be from 1 to 4096.");
  if (!(options.dutyPercent > 0 && options.dutyPercent <= 100)) {
    return Error::badInput("The duty must be above 0 and at most 100 %.");
  }
  if (!(options.seconds > 0) || !(options.work > 0))
    return Error::badInput("Time and work of a load must be above zero.");
  return {};
}

}  // namespace

int usableCpuCount() {
  cpu_set_t set;
  CPU_ZERO(&set);
  if (sched_getaffinity(0, sizeof set, &set) != 0) return std::max(1u, std::thread::hardware_concurrency());
  return std::max(1, CPU_COUNT(&set));
}

std::vector<std::string> knownLoadKinds() { return {"vector"}; }

Result<LoadReport> runLoad(const LoadOptions& options, const std::function<bool()>& shouldStop,
                           const std::function<void(const LoadProgress&)>& onProgress) {
  if (Status checked = checkOptions(options); !checked) return checked.error();
  const VectorVariant variant = usableVectorVariants().front();
  const VectorLanes expected = vectorReference(kVectorRounds, variant.isFused);
  const double workPerBlock = vectorFlops(kVectorRounds) / 1e9;

  LoadReport report;
  report.kind = options.kind;
  report.threads = options.threads > 0 ? options.threads : usableCpuCount();
  report.variant = variant.name;

  Counters counters;
  const double startS = monotonicS();
  std::vector<std::jthread> threads;
  for (int i = 0; i < report.threads; ++i) {
    threads.emplace_back(
        [&](std::stop_token stop) { workUntilStopped(variant, expected, options.dutyPercent, counters, stop); });
  }
  const auto workDone = [&] { return static_cast<double>(counters.blocks.load()) * workPerBlock; };
  double toldS = 0, secondStartS = 0, secondStartWork = 0;
  while (true) {
    const double elapsedS = monotonicS() - startS;
    if (elapsedS >= options.seconds || workDone() >= options.work || shouldStop()) break;
    if (elapsedS - secondStartS >= 1) {
      report.perSecond.push_back((workDone() - secondStartWork) / (elapsedS - secondStartS));
      secondStartS = elapsedS;
      secondStartWork = workDone();
    }
    if (elapsedS - toldS >= kTellEveryS) {
      toldS = elapsedS;
      onProgress({elapsedS, workDone(), counters.errors.load()});
    }
    const double leftS = options.seconds - elapsedS;
    std::this_thread::sleep_for(
        std::min<std::chrono::duration<double>>(kWatchEvery, std::chrono::duration<double>(leftS)));
  }
  report.seconds = monotonicS() - startS;
  report.work = workDone();
  for (std::jthread& thread : threads) thread.request_stop();
  threads.clear();
  report.errors = counters.errors;
  if (report.perSecond.empty()) report.perSecond.push_back(report.work / report.seconds);
  return report;
}

}  // namespace ash
