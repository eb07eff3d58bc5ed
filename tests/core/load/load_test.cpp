// SPDX-License-Identifier: GPL-3.0-or-later
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <thread>

#include "load/activity.h"
#include "load/load_process.h"
#include "load/load_worker.h"
#include "load/vector_kernel.h"
#include "system/clock.h"
#include "system/process_identity.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

/// Sockets and signs of life of this test only.
struct OwnRuntime : tests::TempFolder {
  OwnRuntime() { setenv("XDG_RUNTIME_DIR", path().c_str(), 1); }
};

LoadOptions onOneThread() {
  LoadOptions options;
  options.threads = 1;
  return options;
}

}  // namespace

TEST_CASE("everyVariantGivesTheReferenceBitByBit") {
  for (const VectorVariant& variant : usableVectorVariants()) {
    INFO(variant.name);
    VectorLanes lanes = vectorStart();
    variant.run(lanes, 3000);
    const VectorLanes expected = vectorReference(3000, variant.isFused);
    CHECK(std::memcmp(lanes.data(), expected.data(), sizeof lanes) == 0);
  }
  CHECK(usableVectorVariants().back().name == "portable");
}

TEST_CASE("theWorkStaysNearWhereItBeganSoThatAWrongBitStays") {
  // x·a + b and back again: only rounding is left after any number of rounds.
  const VectorLanes start = vectorStart();
  const VectorLanes end = vectorReference(kVectorRounds, true);
  for (size_t i = 0; i < kVectorLanes; ++i) CHECK(end[i] == Approx(start[i]).epsilon(1e-9));
  VectorLanes spoilt = vectorStart();
  std::uint64_t bits;
  std::memcpy(&bits, &spoilt[17], sizeof bits);
  bits ^= 1ULL << 20;
  std::memcpy(&spoilt[17], &bits, sizeof bits);
  usableVectorVariants().front().run(spoilt, 1000);
  const VectorLanes expected = vectorReference(1000, usableVectorVariants().front().isFused);
  CHECK(std::memcmp(spoilt.data(), expected.data(), sizeof spoilt) != 0);
}

TEST_CASE("flopsAreCountedAsTheyAreDone") {
  // Two multiply-adds of two operations each, per lane and round.
  CHECK(vectorFlops(1000) == 96.0 * 1000 * 2 * 2);
}

TEST_CASE("aLoadStopsByItsTimeAndReportsItsWork") {
  LoadOptions options;
  options.threads = 1;
  options.seconds = 0.4;
  const double startS = monotonicS();
  int told = 0;
  const auto report = runLoad(
      options, [] { return false; }, [&](const LoadProgress&) { ++told; });
  REQUIRE(report);
  CHECK(monotonicS() - startS < 0.8);
  CHECK(report->errors() == 0);
  CHECK(report->parts.front().work > 0);
  CHECK(report->seconds == Approx(0.4).margin(0.1));
  CHECK(told >= 1);
}

TEST_CASE("aLoadStopsByItsWorkAndWhenAsked") {
  LoadOptions options;
  options.threads = 1;
  options.work = 1;
  const auto report = runLoad(
      options, [] { return false; }, [](const LoadProgress&) {});
  // To the block: no more than one block above what was asked.
  CHECK(report->isTaskDone);
  CHECK(report->parts.front().work >= 1);
  CHECK(report->parts.front().work < 1 + vectorFlops(kVectorRounds) / 1e9 + 1e-9);
  const double startS = monotonicS();
  options.work = INFINITY;
  CHECK(runLoad(
      options, [&] { return monotonicS() - startS > 0.1; }, [](const LoadProgress&) {}));
  CHECK(monotonicS() - startS < 0.6);
}

// A quarter of the time it works, whatever a busy host leaves it of that: by less CPU time alone a load that is held
// back could not be told from one that is starved.
TEST_CASE("aQuarterOfTheDutyIsNoMoreThanAQuarterOfTheCpuTime") {
  constexpr double kSeconds = 0.8;
  const auto cpuTime = [](double duty, double seconds) {
    timespec before{}, after{};
    LoadOptions options;
    options.threads = 1;
    options.seconds = seconds;
    options.dutyPercent = duty;
    clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &before);
    REQUIRE(runLoad(
        options, [] { return false; }, [](const LoadProgress&) {}));
    clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &after);
    return static_cast<double>(after.tv_sec - before.tv_sec) +
           static_cast<double>(after.tv_nsec - before.tv_nsec) * 1e-9;
  };
  // The reference result is worked out first, whatever the duty.
  const double reference = cpuTime(25, 0.01), part = cpuTime(25, kSeconds);
  CHECK(part - reference < 0.35 * kSeconds);
  CHECK(part > 0);
}

TEST_CASE("wrongOptionsAreRefused") {
  const auto refusal = [](LoadOptions options) {
    const auto report = runLoad(
        options, [] { return true; }, [](const LoadProgress&) {});
    return report ? std::string() : report.error().message;
  };
  LoadOptions options;
  options.kind = LoadKind::fromText("furnace");
  CHECK(refusal(options).find("There is no load \"furnace\"") == 0);
  options.kind = LoadKind::Vector;
  options.threads = -1;
  CHECK(refusal(options) == "The number of threads must be from 1 to 4096.");
  options.threads = 1;
  options.dutyPercent = 0;
  CHECK(refusal(options) == "The duty must be above 0 and at most 100 %.");
  options.dutyPercent = 100;
  options.seconds = -1;
  CHECK(refusal(options) == "Time and work of a load must be above zero.");
}

TEST_CASE("aLoadProcessTellsItsRateAndGoesWhenToldTo") {
  const OwnRuntime runtime;
  LoadProcess load;
  LoadOptions options;
  options.threads = 1;
  REQUIRE(load.start(ASHG_PROGRAM, options));
  const double startS = monotonicS();
  while (!(load.workRate() > 0) && monotonicS() - startS < 10) {
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
    load.poll();
  }
  CHECK(load.workRate() > 0);
  REQUIRE(activeLoads().size() == 1);
  CHECK(activeLoads()[0].kind == "vector");
  CHECK(activeLoads()[0].share == Approx(1.0 / usableCpuCount()));
  const int pid = activeLoads()[0].pid;
  const double stopS = monotonicS();
  load.stop();
  CHECK(monotonicS() - stopS < 1);
  CHECK_FALSE(isRunning(pid));
  CHECK(activeLoads().empty());
  CHECK_FALSE(load.hasFailed());
}

TEST_CASE("aLoadThatIsKilledIsAFailureAndNoLongerActive") {
  const OwnRuntime runtime;
  LoadProcess load;
  REQUIRE(load.start(ASHG_PROGRAM, onOneThread()));
  double startS = monotonicS();
  while (activeLoads().empty() && monotonicS() - startS < 10)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  REQUIRE(activeLoads().size() == 1);
  const int pid = activeLoads()[0].pid;
  kill(pid, SIGSTOP);
  startS = monotonicS();
  while (!activeLoads().empty() && monotonicS() - startS < 5)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  CHECK(activeLoads().empty());  // stopped is not working
  kill(pid, SIGKILL);
  startS = monotonicS();
  while (load.isRunning() && monotonicS() - startS < 5) load.poll();
  CHECK(load.hasFailed());
  CHECK(load.failure() == "The load was ended by signal 9.");
}

TEST_CASE("aProgramThatIsNotThereIsToldOf") {
  LoadProcess load;
  const Status started = load.start("/no/such/ashg", onOneThread());
  CHECK_FALSE(started);
  CHECK(started.error().message == "Cannot start the load /no/such/ashg: No such file or directory.");
}
