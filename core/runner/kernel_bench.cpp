// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/kernel_bench.h"

#include <chrono>

#include "system/clock.h"

namespace ash {
namespace {
constexpr size_t kMostWaitingTicks = 4096;
}

WorkRateSource::WorkRateSource() {
  m_info.id = "load";
  Reading reading;
  reading.id = "load/work.rate";
  reading.device = "load";
  reading.driver = "load";
  reading.kind = "throughput";
  reading.name = "work done per second";
  reading.role = "work.rate";
  reading.quantity = Quantity::Rate;
  reading.unit = unitOf(Quantity::Rate);
  m_info.readings.push_back(reading);
}

Sweep WorkRateSource::sweep() { return {bootTimeS(), {m_rate.load()}}; }

KernelRunBench::KernelRunBench(const std::string& root, std::string program)
    : m_root(root), m_program(std::move(program)), m_machine(openLinuxMachine(root)) {
  auto workRate = std::make_unique<WorkRateSource>();
  m_workRate = workRate.get();
  m_machine.sources.push_back(std::move(workRate));
  for (const auto& source : m_machine.sources) m_sources.push_back(source->info());
}

KernelRunBench::~KernelRunBench() = default;

void KernelRunBench::begin(double intervalS) {
  m_sampler = std::jthread([this, intervalS](std::stop_token stop) { sample(stop, intervalS); });
}

void KernelRunBench::sample(std::stop_token stop, double intervalS) {
  using Clock = std::chrono::steady_clock;
  const auto interval = std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(intervalS));
  auto due = Clock::now();
  while (!stop.stop_requested()) {
    Tick tick;
    for (int s = 0; s < static_cast<int>(m_machine.sources.size()); ++s) {
      tick.sweeps.emplace_back(s, m_machine.sources[s]->sweep());
    }
    std::unique_lock lock(m_mutex);
    if (m_ticks.size() < kMostWaitingTicks)
      m_ticks.push_back(std::move(tick));
    else
      ++m_lost;
    m_changed.notify_all();
    due += interval;
    // After a stall (or a sleep of the machine) the beat goes on from now; missed beats are a gap, not a burst.
    if (Clock::now() > due + interval) due = Clock::now();
    m_changed.wait_until(lock, stop, due, [] { return false; });
  }
}

std::optional<Tick> KernelRunBench::next(double patienceS) {
  m_load.poll();
  m_workRate->setRate(m_load.isRunning() ? m_load.workRate() : 0);
  std::unique_lock lock(m_mutex);
  m_changed.wait_for(lock, std::chrono::duration<double>(patienceS), [this] { return !m_ticks.empty(); });
  if (m_ticks.empty()) return std::nullopt;
  Tick tick = std::move(m_ticks.front());
  m_ticks.pop_front();
  return tick;
}

Status KernelRunBench::startLoad(const LoadOptions& options) { return m_load.start(m_program, options); }

void KernelRunBench::stopLoad() {
  m_load.stop();
  m_workRate->setRate(0);
}

std::string KernelRunBench::loadFailure() {
  if (m_load.errors() > 0) return "The load found a wrong result: the machine computes wrongly at these settings.";
  return m_load.hasFailed() ? m_load.failure() : std::string();
}

}  // namespace ash
