// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/sim_bench.h"

#include <fmt/format.h>

#include <chrono>
#include <thread>

#include "system/clock.h"

namespace ash {

SimRunBench::SimRunBench(sim::BenchSpec spec, std::string name, uint64_t seed, double speed)
    : m_bench(std::move(spec), seed),
      m_source(m_bench),
      m_sources{m_source.info()},
      m_name(std::move(name)),
      m_seed(seed),
      m_speed(speed) {}

Json SimRunBench::machine() const { return {{"name", m_bench.spec().name}, {"simulated", true}}; }

Json SimRunBench::description() const {
  return {{"kind", "simulated"}, {"name", m_name}, {"seed", m_seed}, {"speed", m_speed}};
}

void SimRunBench::begin(double intervalS) {
  m_intervalS = intervalS;
  m_tickCount = 0;
  m_startedS = monotonicS();
}

std::optional<Tick> SimRunBench::next(double patienceS) {
  const double benchS = static_cast<double>(m_tickCount) * m_intervalS;
  const double waitS = m_startedS + benchS / m_speed - monotonicS();
  if (waitS > 0) std::this_thread::sleep_for(std::chrono::duration<double>(std::min(waitS, patienceS)));
  if (waitS > patienceS) return std::nullopt;
  m_bench.advanceTo(benchS);
  ++m_tickCount;
  Tick tick;
  tick.sweeps.emplace_back(0, m_source.sweep());
  return tick;
}

Status SimRunBench::startLoad(const LoadOptions& options) {
  const int threads = options.threads;
  double share = options.dutyPercent / 100;
  if (threads > 0 && !m_bench.spec().devices.empty()) share *= std::min(1.0, threads / m_bench.spec().devices[0].units);
  if (m_bench.setLoad(options.kind, share)) return {};
  std::string known;
  for (const auto& [kind, activities] : m_bench.spec().loads) known += (known.empty() ? "" : ", ") + kind;
  return Error::badInput(fmt::format("The bench {} knows no load \"{}\"; it has: {}.", m_name, options.kind, known));
}

}  // namespace ash
