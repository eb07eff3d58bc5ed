// SPDX-License-Identifier: GPL-3.0-or-later
// Whose work it was: a processor is not slowed by what a drive or the graphics do.
#include "analysis/run/worked_device.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "model/load_kind.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// 100 s of rest, then a transfer whose rate falls at 160 s, on a machine that tells no clock.
LogMaker transfer(const std::string& load, double cpuLoad, double cacheS = 60) {
  LogMaker maker(1000, 1);
  const auto rate = [cacheS](double t) { return t < 100 ? 0.0 : t < 100 + cacheS ? 2100.0 : 480.0; };
  maker.add("storage.write", rate).add("work.rate", rate);
  maker.add("cpu.load", [cpuLoad](double t) { return t < 100 ? 1.0 : cpuLoad; });
  maker.add("cpu.power", [](double t) { return t < 100 ? 5.0 : 12.0; });
  maker.add("cpu.temp", [](double t) { return t < 100 ? 35.0 : 45.0; });
  maker.add("storage.temp", [](double t) { return 35 + (t < 100 ? 0 : 20 * (1 - std::exp(-(t - 100) / 150))); });
  maker.run.facts.load = load;
  return maker;
}

const Throttling* throttlingOf(const Figures& figures, const char* device) {
  for (const Throttling& one : figures.throttling) {
    if (one.device == Device(device)) return &one;
  }
  return nullptr;
}

const Problem* problemIn(const Figures& figures, ProblemKind::Known kind) {
  for (const Problem& problem : figures.problems) {
    if (problem.kind == kind) return &problem;
  }
  return nullptr;
}

DeviceKind workedIn(const LogMaker& maker) {
  std::vector<Problem> problems;
  return workedDevice(makeContext(maker.run, problems));
}

}  // namespace

TEST_CASE("aLoadWorksTheDeviceOfItsKind") {
  CHECK(workedBy(kindOfLoad("vector")) == DeviceKind::Cpu);
  CHECK(workedBy(kindOfLoad("memory 4 threads")) == DeviceKind::Cpu);
  CHECK(workedBy(kindOfLoad("graphics, 60 frames/s")) == DeviceKind::Gpu);
  CHECK(workedBy(kindOfLoad("storage+vector")) == DeviceKind::Storage);
  CHECK_FALSE(workedBy(kindOfLoad("command make")));
  CHECK_FALSE(workedBy(kindOfLoad("a mixdown")));
  CHECK_FALSE(workedBy(kindOfLoad("")));
}

TEST_CASE("theKindOfABooksLoadGoesBeforeItsName") {
  LogMaker maker = transfer("memory of a long write", 90);
  CHECK(workedIn(maker) == DeviceKind::Cpu);
  maker.run.facts.loadKind = LoadKind::Storage;
  CHECK(workedIn(maker) == DeviceKind::Storage);
}

TEST_CASE("whereNobodySaysSoTheBusyDeviceDidIt") {
  CHECK(workedIn(transfer("storage", 90)) == DeviceKind::Storage);
  CHECK(workedIn(transfer("", 6)) == DeviceKind::Storage);
  CHECK(workedIn(transfer("", 90)) == DeviceKind::Cpu);
  LogMaker drawn(600, 1);
  drawn.add("gpu.load", [](double t) { return t < 100 ? 0.0 : 98.0; });
  drawn.add("cpu.load", [](double t) { return t < 100 ? 1.0 : 8.0; });
  CHECK(workedIn(drawn) == DeviceKind::Gpu);
}

TEST_CASE("aProcessorIsNotSlowedByADrive") {
  for (const auto& [load, cpuLoad] : {std::pair{"storage", 60.0}, {"", 6.0}}) {
    const Figures figures = analyzeRun(transfer(load, cpuLoad).run);
    const Throttling* cpu = throttlingOf(figures, "cpu");
    CHECK((cpu == nullptr || cpu->share == 0));
  }
  // Of a load of the processor it is the processor's loss.
  const Figures figures = analyzeRun(transfer("integer", 99).run);
  const Throttling* cpu = throttlingOf(figures, "cpu");
  REQUIRE(cpu != nullptr);
  CHECK(cpu->share == Approx(840.0 / 900).epsilon(0.02));
}

TEST_CASE("aCacheThatFillsIsAFindingOfItsOwn") {
  const Figures figures = analyzeRun(transfer("storage", 10).run);
  const Problem* cache = problemIn(figures, ProblemKind::CacheFull);
  REQUIRE(cache != nullptr);
  CHECK(cache->startS == Approx(160).margin(1));
  CHECK(cache->channel == "storage.write");
  CHECK(cache->text.find("2100\u202FMB/s to 480\u202FMB/s after 60 s") != std::string::npos);
  // What is sustained is what the drive holds: nothing slowed it.
  const Throttling* drive = throttlingOf(figures, "storage");
  CHECK((drive == nullptr || drive->share == 0));
  CHECK(problemIn(figures, ProblemKind::DriveSlowed) == nullptr);
}

TEST_CASE("aRateThatHoldsOrWaversIsNoFullCache") {
  CHECK(problemIn(analyzeRun(transfer("storage", 10, 5000).run), ProblemKind::CacheFull) == nullptr);
  LogMaker wavering = transfer("storage", 10);
  for (Channel& channel : wavering.run.log.channels) {
    if (channel.name != "storage.write") continue;
    for (size_t i = 100; i < channel.values.size(); ++i) channel.values[i] = (i / 40) % 2 == 0 ? 900 : 1500;
  }
  CHECK(problemIn(analyzeRun(wavering.run), ProblemKind::CacheFull) == nullptr);
}

TEST_CASE("aDriveThatHeatSlowsIsAFindingToo") {
  LogMaker maker = transfer("storage", 10, 5000);
  for (Channel& channel : maker.run.log.channels) {
    for (size_t i = 500; i < channel.values.size(); ++i) {
      if (channel.name == "storage.temp") channel.values[i] = 82;
      if (channel.name == "storage.write") channel.values[i] = 700;
    }
  }
  maker.run.facts.limits["storage.temp"]["throttle"] = 82;
  const Figures figures = analyzeRun(maker.run);
  const Throttling* drive = throttlingOf(figures, "storage");
  REQUIRE(drive != nullptr);
  CHECK(drive->shareThermal == Approx(500.0 / 900).epsilon(0.02));
  const Problem* slowed = problemIn(figures, ProblemKind::DriveSlowed);
  REQUIRE(slowed != nullptr);
  CHECK(slowed->text.find("from 400 s of the load on, from 2100\u202FMB/s to 700\u202FMB/s") != std::string::npos);
  CHECK(problemIn(figures, ProblemKind::CacheFull) == nullptr);
}
