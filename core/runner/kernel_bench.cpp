// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/kernel_bench.h"

#include <fmt/format.h>

#include "readings/kernel/other_load.h"
#include "readings/watch/kernel_log.h"
#include "readings/watch/machine_settings.h"
#include "system/clock.h"
#include "system/patience.h"

namespace ash {
namespace {
constexpr double kSettingsPatienceS = 2;
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

KernelRunBench::KernelRunBench(const std::string& root, std::string program, const ReadingChoices& choices, Json asked)
    : m_root(root), m_program(std::move(program)), m_asked(std::move(asked)) {
  LinuxMachine machine = openLinuxMachine(root, choices);
  m_sources = std::move(machine.sources);
  // A tree shows another machine's times, of which our own load is no part.
  if (root.empty()) m_sources.push_back(makeOtherLoadSource(m_loadPid));
  m_workRate = std::make_shared<WorkRateSource>();
  m_sources.push_back(m_workRate);
  for (const auto& source : m_sources) m_infos.push_back(source->info());
  m_wasGone.assign(m_sources.size(), false);
  m_missing = std::move(machine.missing);
  m_facts = std::move(machine.facts);
  m_facts["kernel_log"] = KernelLog(root).state();
  const auto settings =
      within<std::vector<MachineSetting>>(kSettingsPatienceS, [root] { return readMachineSettings(root); });
  if (!settings) return;
  m_facts["settings"] = settingsToJson(*settings);
  m_notAsAsked = ash::notAsAsked(m_asked, *settings);
}

KernelRunBench::~KernelRunBench() = default;

void KernelRunBench::begin(double intervalS) {
  m_sleptBeforeS = bootTimeS() - monotonicS();
  m_watch.emplace(m_root, m_asked);
  m_sampler.emplace(m_sources, intervalS);
}

std::optional<Tick> KernelRunBench::next(double patienceS) {
  m_load.poll();
  m_workRate->setRate(m_load.isRunning() ? m_load.workRate() : 0);
  *m_loadPid = m_load.pid();
  return m_sampler->next(patienceS);
}

double KernelRunBench::nowS() const { return bootTimeS(); }

double KernelRunBench::sleptS() const { return bootTimeS() - monotonicS() - m_sleptBeforeS; }

std::vector<Event> KernelRunBench::takeFindings(bool isLast) {
  if (!m_sampler) return {};
  std::vector<Event> findings = m_watch->take(isLast);
  tellGone(findings);
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

// A device that was unplugged: its readings are missing from now on, the run goes on.
void KernelRunBench::tellGone(std::vector<Event>& findings) {
  for (size_t i = 0; i < m_sources.size(); ++i) {
    const bool isGone = m_sources[i]->isGone();
    if (isGone == m_wasGone[i]) continue;
    m_wasGone[i] = isGone;
    Event event;
    event.kind = "fault";
    event.text = fmt::format(fmt::runtime(isGone ? "{} is gone: its {} readings are missing from now on."
                                                 : "{} is back with its {} readings."),
                             m_infos[i].readings.front().device, m_infos[i].readings.size());
    event.extra = {{"source", "devices"}, {"failure", isGone ? "gone" : "back"}};
    findings.push_back(std::move(event));
  }
}

Status KernelRunBench::startLoad(const LoadOptions& options) { return m_load.start(m_program, options); }

void KernelRunBench::stopLoad() {
  m_load.stop();
  m_workRate->setRate(0);
}

std::string KernelRunBench::loadFailure() { return m_load.hasFailed() ? m_load.failure() : std::string(); }

}  // namespace ash
