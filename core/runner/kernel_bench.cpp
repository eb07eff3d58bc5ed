// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/kernel_bench.h"

#include <fmt/format.h>

#include "system/clock.h"

namespace ash {

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
    : m_root(root), m_program(std::move(program)), m_watch(root) {
  LinuxMachine machine = openLinuxMachine(root);
  for (auto& source : machine.sources) m_sources.push_back(std::move(source));
  m_workRate = std::make_shared<WorkRateSource>();
  m_sources.push_back(m_workRate);
  for (const auto& source : m_sources) m_infos.push_back(source->info());
  m_missing = std::move(machine.missing);
  m_facts = std::move(machine.facts);
  m_facts["kernel_log"] = m_watch.kernelLogState();
}

KernelRunBench::~KernelRunBench() = default;

void KernelRunBench::begin(double intervalS) {
  m_sleptBeforeS = bootTimeS() - monotonicS();
  m_watch.begin();
  m_sampler.emplace(m_sources, intervalS);
}

std::optional<Tick> KernelRunBench::next(double patienceS) {
  m_load.poll();
  m_workRate->setRate(m_load.isRunning() ? m_load.workRate() : 0);
  return m_sampler->next(patienceS);
}

double KernelRunBench::nowS() const { return bootTimeS(); }

double KernelRunBench::sleptS() const { return bootTimeS() - monotonicS() - m_sleptBeforeS; }

std::vector<Event> KernelRunBench::takeFindings(bool isLast) {
  std::vector<Event> findings = m_watch.take(isLast);
  if (!m_sampler) return findings;
  for (const int source : m_sampler->takeBlocked()) {
    Event event;
    event.kind = "problem";
    event.text = fmt::format("{} did not answer in time; it is read apart from the others from now on.",
                             m_infos[static_cast<size_t>(source)].readings.front().device);
    event.extra = {{"kind", "slow_source"}};
    findings.push_back(std::move(event));
  }
  return findings;
}

Status KernelRunBench::startLoad(const LoadOptions& options) { return m_load.start(m_program, options); }

void KernelRunBench::stopLoad() {
  m_load.stop();
  m_workRate->setRate(0);
}

std::string KernelRunBench::loadFailure() { return m_load.hasFailed() ? m_load.failure() : std::string(); }

}  // namespace ash
