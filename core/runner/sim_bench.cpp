// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/sim_bench.h"

#include <fmt/format.h>

#include <chrono>
#include <cmath>
#include <thread>
#include <utility>

#include "system/clock.h"

namespace ash {

SimRunBench::SimRunBench(MachineSources machine, double speed) : m_machine(std::move(machine)), m_speed(speed) {}

SimRunBench::SimRunBench(SimulatedMachine bench, double speed)
    : SimRunBench(MachineSources::open({"", {}, {}, std::move(bench)}), speed) {}

Json SimRunBench::description() const {
  const SimulatedMachine& simulated = *m_machine.description().simulated;
  return {{"kind", kSimulatedBench}, {"name", simulated.name}, {"seed", simulated.seed}, {"speed", m_speed}};
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
  bench().advanceTo(benchS);
  ++m_tickCount;
  countWork(benchS);
  return m_machine.sweepInStep();
}

// What every part of the load asks of the devices at a moment.
bool SimRunBench::applyLoad(double sinceS) {
  bench().clearLoad();
  const auto add = [&](const LoadOptions& part) {
    double share = dutyAt(part, sinceS) / 100;
    if (part.threads > 0 && !bench().spec().devices.empty())
      share *= std::min(1.0, part.threads / bench().spec().devices[0].units);
    return bench().addLoad(std::string(part.kind.text()), share);
  };
  bool isKnown = add(*m_load);
  for (const LoadOptions& other : m_load->also) isKnown = add(other) && isKnown;
  return isKnown;
}

// Tasks and passes are told by the work that the bench has done.
void SimRunBench::countWork(double benchS) {
  if (!m_load) return;
  if (!m_load->steps.empty()) applyLoad(benchS - m_loadBeganS);
  const double before = m_work;
  m_work += bench().workRate() * (benchS - std::exchange(m_countedS, benchS));
  const double pass = m_load->passWork;
  if (pass > 0 && std::floor(m_work / pass) > std::floor(before / pass)) {
    Event event;
    event.kind = EventKind::Pass;
    event.text = fmt::format("A pass ended after {:.1f} s.", benchS - m_passBeganS);
    event.value = pass / (benchS - m_passBeganS);
    event.extra = {{"start_s", m_passBeganS}, {"end_s", benchS}, {"score", event.value}, {"scores", Json::object()}};
    m_passes.push_back(std::move(event));
    m_passBeganS = benchS;
  }
  const double task = m_load->passes > 0 ? std::min(m_load->work, m_load->passes * pass) : m_load->work;
  if (m_work >= task) m_taskDoneS = benchS - m_loadBeganS;
}

std::vector<Event> SimRunBench::takeFindings(bool isLast) {
  static_cast<void>(isLast);
  return std::exchange(m_passes, {});
}

void SimRunBench::stopLoad() {
  bench().clearLoad();
  m_load.reset();
  m_taskDoneS = kMissing;
}

Status SimRunBench::startLoad(const LoadOptions& options) {
  m_load = options;
  m_loadBeganS = m_countedS = m_passBeganS = bench().timeS();
  m_work = 0;
  m_taskDoneS = kMissing;
  if (applyLoad(0)) return {};
  m_load.reset();
  bench().clearLoad();
  std::string known;
  for (const auto& [kind, activities] : bench().spec().loads) known += (known.empty() ? "" : ", ") + kind;
  return Error::badInput(fmt::format("The bench {} knows no load \"{}\"; it has: {}.",
                                     m_machine.description().simulated->name, loadKindText(options), known));
}

}  // namespace ash
