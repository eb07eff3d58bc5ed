// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/kernel_bench.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <future>

#include "model/text.h"
#include "readings/watch/kernel_log.h"
#include "system/clock.h"

namespace ash {

KernelRunBench::KernelRunBench(MachineSources machine, std::string program, Json asked)
    : m_machine(std::move(machine)), m_program(std::move(program)), m_asked(std::move(asked)) {
  m_facts = m_machine.facts();
  m_facts["kernel_log"] = KernelLog(m_machine.description().root).state();
  readSettings();
}

void KernelRunBench::readSettings() {
  const auto settings = m_machine.settings();
  if (!settings) return;
  m_facts["settings"] = settingsToJson(*settings);
  Json asked = m_asked;
  for (const std::string& field : m_expected) asked.erase(field);
  m_notAsAsked = ash::notAsAsked(asked, *settings);
}

KernelRunBench::~KernelRunBench() { static_cast<void>(KernelRunBench::putBack()); }

Result<KnobHand*> KernelRunBench::hand() {
  if (m_hand) return m_hand.get();
  auto opened = openHand(m_machine.description().root, TurnedBy::Run);
  if (!opened) return opened.error();
  m_hand = std::move(*opened);
  return m_hand.get();
}

void KernelRunBench::expectTurned(const std::string& field) {
  m_expected.push_back(field);
  readSettings();
}

Status KernelRunBench::canTurn(const std::string& knob) {
  const auto knobs = hand();
  if (!knobs) return knobs.error();
  const Knob* found = (*knobs)->find(knob);
  if (found == nullptr) return RunBench::canTurn(knob);
  return found->isTurnable() ? Status() : Status(Error::environment(found->whyNot));
}

Status KernelRunBench::checkKnob(const KnobSetting& setting) {
  const auto knobs = hand();
  return knobs ? (*knobs)->check(setting.knob, setting.value) : Status(knobs.error());
}

// What is turned is looked at for a moment, and the helper may ask a person first; a load that hears nothing from its
// recorder meanwhile would end itself.
template <typename Work>
auto KernelRunBench::whileTheLoadIsHeld(Work work) {
  constexpr auto kSignEvery = std::chrono::milliseconds(50);
  auto done = std::async(std::launch::async, std::move(work));
  while (done.wait_for(kSignEvery) != std::future_status::ready) m_load.poll();
  return done.get();
}

Result<Turned> KernelRunBench::turn(const KnobSetting& setting) {
  const auto knobs = hand();
  if (!knobs) return knobs.error();
  auto turned =
      whileTheLoadIsHeld([&] { return (*knobs)->turn(setting.knob, setting.value, [this] { return nearestNow(); }); });
  if (!turned) return turned;
  // Before the first sample it is how the machine is set for this run; later it is what was changed in it.
  if (!m_watch) readSettings();
  m_turnedTo.emplace_back(monotonicS(), turned->readBack);
  return turned;
}

NearLimit KernelRunBench::nearestNow() const {
  if (m_nearestOf.empty()) return nearestToLimit(m_machine.description().root);
  NearLimit nearest;
  for (const auto& [source, one] : m_nearestOf) {
    if (one.leftK < nearest.leftK) nearest = one;
  }
  return nearest;
}

// Fans that a run has turned go back to what drives them when it gets too hot, whatever its stop rules say.
void KernelRunBench::guardFans(const Tick& tick) {
  for (const auto& [source, sweep] : tick.sweeps) {
    NearLimit& nearest = m_nearestOf[source] = {};
    lookForLimit(sources()[static_cast<size_t>(source)].readings, sweep.values, nearest);
  }
  const NearLimit nearest = nearestNow();
  if (!nearest.isNear() || !m_hand || !m_hand->hasTurnedFans()) return;
  const auto troubles = whileTheLoadIsHeld([this] { return m_hand->releaseFans(); });
  Event event;
  event.kind = EventKind::Problem;
  event.text = fmt::format("Fans went back to what drives them: {}.", nearest.sentence());
  for (const std::string& trouble : troubles) event.text += " " + trouble;
  event.extra = {{"kind", ProblemKind(ProblemKind::NotAsAsked).text()}};
  m_letGo.push_back(std::move(event));
}

std::vector<std::string> KernelRunBench::putBack() {
  return m_hand ? m_hand->restore(false) : std::vector<std::string>();
}

Json KernelRunBench::description() const {
  Json about = {{"kind", "kernel"}, {"root", m_machine.description().root}};
  // What was used, as a fact: nothing of it is ever followed.
  for (const auto& source : m_machine.instruments()) {
    const Instrument& instrument = source->instrument();
    const InstrumentState state = source->state();
    Json readings = Json::array();
    for (size_t i = 0; i < instrument.readings.size(); ++i) {
      const InstrumentReading& reading = instrument.readings[i];
      readings.push_back(
          {{"reading", source->info().readings[i].column()},
           {"accuracy", reading.accuracyAsWritten.empty() ? Json(nullptr) : Json(reading.accuracyAsWritten)},
           {"place", reading.place.empty() ? Json(nullptr) : Json(reading.place)}});
    }
    about["instruments"].push_back({{"name", instrument.name},
                                    {"kind", instrumentKindText(instrument.kind)},
                                    {"address", instrument.where()},
                                    {"identity", state.identity.empty() ? Json(nullptr) : Json(state.identity)},
                                    {"clock_offset_s", numberOrNull(state.clockOffsetS)},
                                    {"readings", std::move(readings)}});
  }
  return about;
}

void KernelRunBench::begin(double intervalS) {
  m_sleptBeforeS = bootTimeS() - monotonicS();
  m_watch.emplace(m_machine.description().root, m_asked);
  m_machine.begin(intervalS);
}

std::optional<Tick> KernelRunBench::next(double patienceS) {
  m_load.poll();
  m_machine.load()->tell(m_load);
  auto tick = m_machine.next(patienceS);
  if (tick) guardFans(*tick);
  return tick;
}

double KernelRunBench::nowS() const { return bootTimeS(); }

double KernelRunBench::sleptS() const { return bootTimeS() - monotonicS() - m_sleptBeforeS; }

bool KernelRunBench::isOwnDoing(const Event& event) {
  if (event.kind != EventKind::Change) return false;
  constexpr double kSeenWithinS = 10;
  const Json after = valueIn(event.extra, "after", Json());
  return std::any_of(m_turnedTo.begin(), m_turnedTo.end(), [&](const auto& one) {
    if (monotonicS() - one.first > kSeenWithinS) return false;
    if (after.is_string()) return after.get<std::string>() == one.second;
    const auto number = parseNumber(one.second);
    return after.is_number() && number && std::abs(after.get<double>() - *number) < 0.5;
  });
}

std::vector<Event> KernelRunBench::takeFindings(bool isLast) {
  if (!m_watch) return {};
  std::vector<Event> findings = m_watch->take(isLast);
  // What the run has turned itself has been told as that.
  std::erase_if(findings, [this](const Event& event) { return isOwnDoing(event); });
  for (Event& event : m_machine.takeFindings()) findings.push_back(std::move(event));
  for (Event& event : std::exchange(m_letGo, {})) findings.push_back(std::move(event));
  tellLoad(findings);
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

Status KernelRunBench::startLoad(const LoadOptions& options) { return m_load.start(m_program, options); }

void KernelRunBench::stopLoad() {
  m_load.stop();
  m_machine.load()->tell(m_load);
}

std::string KernelRunBench::loadFailure() { return m_load.hasFailed() ? m_load.failure() : std::string(); }

}  // namespace ash
