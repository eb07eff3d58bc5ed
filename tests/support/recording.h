// SPDX-License-Identifier: GPL-3.0-or-later
// Recording in tests: a place with a book, the simulated bench, and a bench whose temperature, load and time are made
// up.
#pragma once

#include <catch2/catch.hpp>
#include <functional>

#include "book/book.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"
#include "tests/support/temp_folder.h"

namespace ash::tests {

struct Place : TempFolder {
  Place() { setenv("XDG_RUNTIME_DIR", path().c_str(), 1); }
  std::string book() const { return path("b.ashbook"); }
};

inline RunPlan plan(const Place& place, const std::string& phases, const std::string& setup = "mesh") {
  RunPlan plan;
  plan.bookPath = place.book();
  plan.study = "s";
  plan.setup = setup;
  plan.procedure = *parsePhases(phases);
  return plan;
}

inline SimRunBench larch(const std::string& setup = "mesh", uint64_t seed = 1, double speed = 1e6) {
  return SimRunBench({*sim::loadBench("larch12", setup), "larch12", seed}, speed);
}

inline RunResult record(
    RunPlan plan, RunBench& bench,
    const std::function<void(const RunProgress&)>& onProgress = [](const RunProgress&) {}) {
  RunRecorder recorder(std::move(plan), bench);
  const auto result = recorder.run(onProgress);
  if (!result) FAIL(result.error().message);
  return *result;
}

inline RunLog readBack(const Place& place, const std::string& id) {
  return *Book::open(place.book(), BookAccess::ReadOnly)->readRun(id);
}

/// A bench whose temperature, load and time are what the test says.
class FakeBench : public RunBench {
 public:
  /// One reading of that role, whose value `temperature` says.
  struct OneReading {
    std::string role;
    Quantity quantity;
    std::string unit;
  };
  explicit FakeBench(const OneReading& one) {
    Reading reading;
    reading.id = "r";
    reading.role = one.role;
    reading.quantity = one.quantity;
    reading.unit = one.unit;
    m_sources.push_back({"fake", {reading}});
  }
  FakeBench() {
    Reading cpu;
    cpu.id = "t";
    cpu.role = "cpu.temp";
    cpu.quantity = Quantity::Temperature;
    cpu.unit = "°C";
    cpu.limits = {{"throttle", 95}, {"critical", 105}};
    m_sources.push_back({"fake", {cpu}});
  }
  const std::vector<SourceInfo>& sources() const override { return m_sources; }
  Json machine() const override { return {{"name", "fake"}}; }
  Json description() const override { return {{"kind", "kernel"}}; }
  Json conditions() const override { return Json::object(); }
  std::vector<std::string> missing() const override { return {}; }
  double speed() const override { return 1; }
  void begin(double intervalS) override { m_intervalS = intervalS; }
  std::optional<Tick> next(double) override {
    Tick tick;
    const double t = m_intervalS * m_count++;
    if (beforeTick) beforeTick(t);
    const double at = clock(t);
    tick.sweeps.emplace_back(0, Sweep{at, {temperature(at, isLoadOn)}});
    return tick;
  }
  long long lostTicks() const override { return 0; }
  Status startLoad(const LoadOptions&) override {
    if (!startFailure.empty()) return Error::environment(startFailure);
    isLoadOn = true;
    return {};
  }
  void stopLoad() override { isLoadOn = false; }
  double sleptS() const override { return slept(); }
  long long wrongResults() override { return wrong(); }
  std::string loadFailure() override { return m_count > failAfter ? "The load was ended by signal 9." : ""; }

  std::function<double(double, bool)> temperature = [](double, bool) { return 50.0; };
  std::function<double(double)> clock = [](double t) { return t; };
  std::function<void(double)> beforeTick;
  std::function<double()> slept = [] { return 0.0; };
  std::function<long long()> wrong = [] { return 0LL; };
  std::string startFailure;
  int failAfter = 1 << 30;
  bool isLoadOn = false;

 private:
  std::vector<SourceInfo> m_sources;
  double m_intervalS = 0.5;
  int m_count = 0;
};

}  // namespace ash::tests
