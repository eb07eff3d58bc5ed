// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/source_kinds.h"

#include <algorithm>
#include <iterator>
#include <set>

#include "machine/instrument_columns.h"
#include "machine/kept_readings.h"
#include "readings/kernel/other_load.h"
#include "readings/linux_machine.h"
#include "sim/sim_source.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr double kFirstAnswerS = 1.5;  // for the identity, and for a value in the first row

template <typename T>
void moveTo(std::vector<T>& to, std::vector<T>& from) {
  to.insert(to.end(), std::make_move_iterator(from.begin()), std::make_move_iterator(from.end()));
}

void openKernel(const MachineDescription& description, const std::vector<std::string>& hung, MachineParts& parts) {
  LinuxMachine machine =
      openLinuxMachine(description.root, description.choices, hung, rolesGivenToInstruments(description));
  moveTo(parts.sources, machine.sources);
  moveTo(parts.skipped, machine.skipped);
  moveTo(parts.missing, machine.missing);
  moveTo(parts.hidden, machine.hidden);
  moveTo(parts.hung, machine.hung);
  parts.facts = std::move(machine.facts);
}

void openSimulated(const MachineDescription& description, const std::vector<std::string>&, MachineParts& parts) {
  const SimulatedMachine& simulated = *description.simulated;
  parts.simulated = std::make_shared<sim::Bench>(simulated.spec, simulated.seed);
  parts.sources.push_back(std::make_shared<sim::SimSource>(parts.simulated));
  parts.facts = {{"name", simulated.spec.name}, {"simulated", true}};
}

void openLoad(const MachineDescription& description, const std::vector<std::string>&, MachineParts& parts) {
  parts.load = std::make_shared<LoadSource>(*description.load);
  // A tree shows another machine's times, of which our own load is no part.
  if (description.root.empty()) parts.sources.push_back(makeOtherLoadSource(parts.load->pid()));
  parts.sources.push_back(parts.load);
}

// The source, without what a person has unticked.
void addKept(const std::shared_ptr<Source>& source, const ReadingChoices& choices, MachineParts& parts) {
  const auto isHidden = [&](const Reading& reading) { return hides(choices, reading.id); };
  const auto& all = source->info().readings;
  if (std::none_of(all.begin(), all.end(), isHidden)) return parts.sources.push_back(source);
  const auto kept = std::make_shared<KeptReadings>(source, isHidden);
  parts.hidden.insert(parts.hidden.end(), kept->hidden().begin(), kept->hidden().end());
  if (!kept->info().readings.empty()) parts.sources.push_back(kept);
}

void openInstruments(const MachineDescription& description, const std::vector<std::string>&, MachineParts& parts) {
  std::set<std::string> taken;
  for (const auto& source : parts.sources) {
    for (const Reading& reading : source->info().readings) taken.insert(reading.column());
  }
  // What was given by hand is not given to another by rule.
  const std::set<std::string> given = rolesGivenToInstruments(description);
  for (const Instrument& instrument : description.instruments) {
    for (const InstrumentReading& reading : instrument.readings) {
      if (reading.role.isRoom()) std::erase(parts.missing, kNoRoomIsRead);
    }
    parts.instruments.push_back(
        std::make_shared<InstrumentSource>(instrument, columnsOf(instrument, description.choices, taken, given)));
    addKept(parts.instruments.back(), description.choices, parts);
  }
  // All of them at once: each has its own thread.
  const double endS = monotonicS() + kFirstAnswerS;
  for (const auto& source : parts.instruments) source->waitForFirst(endS - monotonicS());
}

}  // namespace

const std::vector<SourceKind>& sourceKinds() {
  static const std::vector<SourceKind> kinds = {
      {"kernel", [](const MachineDescription& asked) { return !asked.simulated; }, openKernel},
      {"simulated", [](const MachineDescription& asked) { return asked.simulated.has_value(); }, openSimulated},
      {"instruments", [](const MachineDescription& asked) { return !asked.instruments.empty(); }, openInstruments},
      {"load", [](const MachineDescription& asked) { return asked.load.has_value(); }, openLoad},
  };
  return kinds;
}

}  // namespace ash
