// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/machine_sources.h"

#include <fmt/format.h>

#include <map>
#include <utility>

#include "readings/linux_machine.h"
#include "system/patience.h"

namespace ash {
namespace {
constexpr double kSettingsPatienceS = 2;

// `why` is what the source itself says of it; empty for a device that was unplugged.
Event goneEvent(const SourceInfo& source, bool isGone, const std::string& why) {
  const size_t count = source.readings.size();
  const std::string& device = source.readings.front().device;
  const std::string what = count == 1 ? "its reading" : fmt::format("its {} readings", count);
  Event event;
  event.kind = EventKind::Fault;
  event.text = isGone ? fmt::format("{} is gone{}: {} {} missing from now on.", device,
                                    why.empty() ? "" : " (" + why + ")", what, count == 1 ? "is" : "are")
                      : fmt::format("{} is back with {}.", device, what);
  event.extra = {{"source", "devices"}, {"failure", isGone ? "gone" : "back"}};
  return event;
}

Event slowEvent(const SourceInfo& source) {
  Event event;
  event.kind = EventKind::Problem;
  event.text = fmt::format("{} did not answer in time; it is read apart from the others from now on.",
                           source.readings.front().device);
  event.extra = {{"kind", ProblemKind(ProblemKind::SlowSource).text()}};
  return event;
}

Event overloadEvent(std::string text) {
  Event event;
  event.kind = EventKind::Problem;
  event.text = std::move(text);
  event.extra = {{"kind", ProblemKind(ProblemKind::Saturated).text()}};
  return event;
}
}  // namespace

MachineSources MachineSources::open(MachineDescription description) {
  MachineSources machine;
  machine.m_description = std::move(description);
  machine.openAll({});
  return machine;
}

void MachineSources::openAll(const std::vector<std::string>& hung) {
  m_parts = {};
  for (const SourceKind& kind : sourceKinds()) {
    if (kind.isAsked(m_description)) kind.open(m_description, hung, m_parts);
  }
  m_infos.clear();
  m_seen.clear();
  for (const auto& source : m_parts.sources) {
    m_infos.push_back(source->info());
    m_seen.emplace_back(m_infos.back().readings.size());
  }
  m_wasGone.assign(m_parts.sources.size(), false);
}

void MachineSources::openAnew(const ReadingChoices& choices) {
  rest();
  std::map<std::string, std::pair<size_t, size_t>> places;  // by id: source and reading, as they were
  for (size_t s = 0; s < m_infos.size(); ++s) {
    for (size_t i = 0; i < m_infos[s].readings.size(); ++i) places[m_infos[s].readings[i].id] = {s, i};
  }
  const auto before = m_seen;
  m_description.choices = choices;
  openAll(std::vector<std::string>(m_parts.hung));
  for (size_t s = 0; s < m_infos.size(); ++s) {
    for (size_t i = 0; i < m_infos[s].readings.size(); ++i) {
      const auto place = places.find(m_infos[s].readings[i].id);
      if (place != places.end()) m_seen[s].goOn(i, before[place->second.first], place->second.second);
    }
  }
}

std::string MachineSources::key() const { return machineKey(facts()); }

std::optional<std::vector<MachineSetting>> MachineSources::settings() const {
  if (m_description.simulated) return std::nullopt;
  return within<std::vector<MachineSetting>>(kSettingsPatienceS,
                                             [root = m_description.root] { return readMachineSettings(root); });
}

const Reading* MachineSources::find(const std::string& id) const {
  for (const Reading& reading : hidden()) {
    if (reading.id == id) return &reading;
  }
  for (const SourceInfo& source : m_infos) {
    for (const Reading& reading : source.readings) {
      if (reading.id == id) return &reading;
    }
  }
  return nullptr;
}

void MachineSources::begin(double intervalS) {
  for (const auto& instrument : instruments()) instrument->rest(false);
  m_sampler = std::make_unique<Sampler>(sources(), intervalS);
}

void MachineSources::rest() {
  m_sampler.reset();
  for (const auto& instrument : instruments()) instrument->rest(true);
}

std::optional<Tick> MachineSources::next(double patienceS) {
  if (!m_sampler) return std::nullopt;
  auto tick = m_sampler->next(patienceS);
  if (tick) note(*tick);
  return tick;
}

Tick MachineSources::sweepInStep() {
  Tick tick;
  for (size_t s = 0; s < sources().size(); ++s) tick.sweeps.emplace_back(static_cast<int>(s), sources()[s]->sweep());
  note(tick);
  return tick;
}

void MachineSources::note(const Tick& tick) {
  for (const auto& [source, sweep] : tick.sweeps) m_seen[static_cast<size_t>(source)].take(sweep);
}

std::vector<Event> MachineSources::takeFindings() {
  std::vector<Event> findings;
  for (const auto& source : sources()) {
    for (std::string& text : source->takeTold()) findings.push_back(overloadEvent(std::move(text)));
  }
  // A device that was unplugged: its readings are missing from now on, the run goes on.
  for (size_t s = 0; s < sources().size(); ++s) {
    const bool isGone = sources()[s]->isGone();
    if (isGone == m_wasGone[s]) continue;
    m_wasGone[s] = isGone;
    const bool isInstrument = m_infos[s].readings.front().kind == kInstrumentKind;
    findings.push_back(goneEvent(m_infos[s], isGone, isInstrument ? sources()[s]->whyMissing(0) : std::string()));
  }
  if (!m_sampler) return findings;
  for (const int source : m_sampler->takeBlocked()) findings.push_back(slowEvent(m_infos[static_cast<size_t>(source)]));
  return findings;
}

MachineSnapshot MachineSources::snapshot(double nowS) const {
  MachineSnapshot now;
  now.machine = valueIn(facts(), "name", std::string());
  now.machineKey = key();
  now.timeS = nowS;
  now.skipped = skipped();
  now.missing = missing();
  now.choices = m_description.choices;
  for (size_t s = 0; s < m_infos.size(); ++s) {
    for (size_t i = 0; i < m_infos[s].readings.size(); ++i) {
      if (m_infos[s].readings[i].isHidden) continue;
      ReadingNow reading = m_seen[s].at(i, nowS);
      reading.reading = m_infos[s].readings[i];
      if (sources()[s]->isGone()) {
        const std::string why = sources()[s]->whyMissing(i);
        reading.fault = why.empty() ? "the device is gone" : why;
      }
      now.readings.push_back(std::move(reading));
    }
  }
  for (const auto& source : instruments()) now.instruments.push_back({source->instrument(), source->state()});
  for (const Reading& hidden : this->hidden()) {
    ReadingNow reading;
    reading.reading = hidden;
    reading.isHidden = true;
    now.readings.push_back(std::move(reading));
  }
  return now;
}

}  // namespace ash
