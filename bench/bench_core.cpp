// SPDX-License-Identifier: GPL-3.0-or-later
// What the core costs: a second of simulated bench, a settling fit, the analysis of a run of 40 minutes.
#include <benchmark/benchmark.h>

#include <cmath>

#include "analysis/analyze.h"
#include "sim/bench.h"
#include "sim/sim_source.h"

namespace {

using namespace ash;

RunLog fortyMinutes() {
  sim::Bench bench(*sim::loadBench("larch12", "mesh"), 1);
  sim::SimSource source(bench);
  RunLog run;
  for (const Reading& reading : source.info().readings) {
    run.log.channels.push_back({reading.role.text(), reading.quantity, reading.unit, {}, reading.role, reading.step});
  }
  for (double t = 0; t < 2400; t += 0.5) {
    if (t == 60) bench.setLoad("vector", 1);
    bench.advanceTo(t);
    const Sweep sweep = source.sweep();
    run.log.timeS.push_back(t);
    for (size_t i = 0; i < sweep.values.size(); ++i) run.log.channels[i].values.push_back(sweep.values[i]);
  }
  return run;
}

void simulateOneSecond(benchmark::State& state) {
  sim::Bench bench(*sim::loadBench("larch12", "mesh"), 1);
  bench.setLoad("vector", 1);
  double t = 0;
  for (auto step : state) bench.advanceTo(t += 1);
}
BENCHMARK(simulateOneSecond);

void fitAWarmUp(benchmark::State& state) {
  Series series;
  for (double t = 0; t < static_cast<double>(state.range(0)); t += 0.5) {
    series.t.push_back(t);
    series.v.push_back(80 - 30 * std::exp(-t / 60) - 10 * std::exp(-t / 400) + 0.1 * std::sin(13 * t));
  }
  for (auto step : state) benchmark::DoNotOptimize(fitWarmUp(series));
}
BENCHMARK(fitAWarmUp)->Arg(300)->Arg(2400)->Unit(benchmark::kMillisecond);

void analyzeFortyMinutes(benchmark::State& state) {
  const RunLog run = fortyMinutes();
  for (auto step : state) benchmark::DoNotOptimize(analyzeRun(run));
}
BENCHMARK(analyzeFortyMinutes)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
