// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/kernel_bench.h"

#include <fmt/format.h>

#include "model/role.h"
#include "readings/kernel/other_load.h"
#include "readings/watch/kernel_log.h"
#include "readings/watch/machine_settings.h"
#include "system/clock.h"
#include "system/patience.h"

namespace ash {
namespace {
constexpr double kSettingsPatienceS = 2;
constexpr char kErrors[] = "errors", kPasses[] = "passes";  // what a load tells beside its rates
}  // namespace

LoadSource::LoadSource(const LoadOptions& options) {
  m_info.id = "load";
  m_draws = options.kind == LoadKind::Graphics;
  for (const LoadOptions& other : options.also) m_draws |= other.kind == LoadKind::Graphics;
  add(roles::kWorkRate, roles::kWorkRate, Quantity::Rate, "work done per second");
  if (m_draws) add(roles::kFrameRate, roles::kFrameRate, Quantity::FrameRate, "frames drawn per second");
  add(kErrors, "", Quantity::Other, "wrong results");
  add(kPasses, "", Quantity::Other, "passes that ended");
  for (const auto& [name, pattern] : options.live) {
    const Role role(name);
    if (role != roles::kWorkRate && (role != roles::kFrameRate || !m_draws))
      add(name, role.isKnown() ? role : Role(), role.quantity(), "told by the command");
  }
  m_values.assign(m_names.size(), 0);
}

void LoadSource::add(const std::string& name, const Role& role, Quantity quantity, const std::string& words) {
  Reading reading;
  reading.id = "load/" + name;
  reading.device = "load";
  reading.driver = "load";
  reading.kind = quantity == Quantity::Other ? "count" : "throughput";
  reading.name = role.empty() ? "load." + name : words;
  reading.role = role;
  reading.quantity = quantity;
  reading.unit = unitOf(quantity);
  reading.meaning = words;
  m_info.readings.push_back(reading);
  m_names.push_back(name);
}

Sweep LoadSource::sweep() {
  const std::lock_guard lock(m_mutex);
  return {bootTimeS(), m_values};
}

void LoadSource::tell(const LoadProcess& load) {
  const bool isOn = load.isRunning();
  const std::lock_guard lock(m_mutex);
  for (size_t i = 0; i < m_names.size(); ++i) {
    const auto live = load.live().find(m_names[i]);
    if (isOn && live != load.live().end())
      m_values[i] = live->second;
    else if (m_names[i] == roles::kWorkRate)
      m_values[i] = isOn ? load.workRate() : 0;
    else if (m_names[i] == roles::kFrameRate && m_draws)
      m_values[i] = isOn ? load.frameRate() : 0;
    else if (m_names[i] == kErrors)
      m_values[i] = static_cast<double>(load.errors());
    else if (m_names[i] == kPasses)
      m_values[i] = static_cast<double>(load.passes());
    else
      m_values[i] = kMissing;
  }
}

KernelRunBench::KernelRunBench(const std::string& root, std::string program, const ReadingChoices& choices, Json asked,
                               const LoadOptions& load)
    : m_root(root), m_program(std::move(program)), m_asked(std::move(asked)) {
  LinuxMachine machine = openLinuxMachine(root, choices);
  m_sources = std::move(machine.sources);
  // A tree shows another machine's times, of which our own load is no part.
  if (root.empty()) m_sources.push_back(makeOtherLoadSource(m_loadPid));
  m_loadSource = std::make_shared<LoadSource>(load);
  m_sources.push_back(m_loadSource);
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
  m_loadSource->tell(m_load);
  *m_loadPid = m_load.pid();
  return m_sampler->next(patienceS);
}

double KernelRunBench::nowS() const { return bootTimeS(); }

double KernelRunBench::sleptS() const { return bootTimeS() - monotonicS() - m_sleptBeforeS; }

std::vector<Event> KernelRunBench::takeFindings(bool isLast) {
  if (!m_sampler) return {};
  std::vector<Event> findings = m_watch->take(isLast);
  tellGone(findings);
  tellLoad(findings);
  for (const int source : m_sampler->takeBlocked()) {
    Event event;
    event.kind = EventKind::Problem;
    event.text = fmt::format("{} did not answer in time; it is read apart from the others from now on.",
                             m_infos[static_cast<size_t>(source)].readings.front().device);
    event.extra = {{"kind", "slow_source"}};
    findings.push_back(std::move(event));
  }
  return findings;
}

// Passes that ended, and results that were wrong, each with its place and time.
void KernelRunBench::tellLoad(std::vector<Event>& findings) {
  const double zeroS = m_load.beganS() + bootTimeS() - monotonicS();
  for (const Pass& pass : m_load.takePasses()) {
    Event event;
    event.kind = EventKind::Pass;
    event.text = fmt::format("A pass ended after {:.1f} s.", pass.endS - pass.startS);
    event.value = pass.score;
    event.extra = {{"start_s", zeroS + pass.startS},
                   {"end_s", zeroS + pass.endS},
                   {"score", numberOrNull(pass.score)},
                   {"scores", pass.scores}};
    findings.push_back(std::move(event));
  }
  for (; m_wrongTold < m_load.wrong().size(); ++m_wrongTold) {
    const WrongResults& wrong = m_load.wrong()[m_wrongTold];
    Event event;
    event.kind = EventKind::Fault;
    event.text = "The load found " + wrongResultsText({wrong}) + ".";
    event.extra = {{"source", "load"}, {"core", wrong.core}, {"count", wrong.count}};
    findings.push_back(std::move(event));
  }
}

// A device that was unplugged: its readings are missing from now on, the run goes on.
void KernelRunBench::tellGone(std::vector<Event>& findings) {
  for (size_t i = 0; i < m_sources.size(); ++i) {
    const bool isGone = m_sources[i]->isGone();
    if (isGone == m_wasGone[i]) continue;
    m_wasGone[i] = isGone;
    Event event;
    event.kind = EventKind::Fault;
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
  m_loadSource->tell(m_load);
}

std::string KernelRunBench::loadFailure() { return m_load.hasFailed() ? m_load.failure() : std::string(); }

}  // namespace ash
