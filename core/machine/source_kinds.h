// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of things that readings come from, a row each. A new kind is its own file and a row here.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "instruments/instrument_source.h"
#include "machine/load_source.h"
#include "machine/machine_description.h"
#include "readings/gauges/source.h"
#include "sim/bench.h"

namespace ash {

/// What has been opened so far; every kind adds to it.
struct MachineParts {
  std::vector<std::shared_ptr<Source>> sources;
  std::vector<SkippedReading> skipped;
  std::vector<std::string> missing;  ///< what was looked for and is not there, one sentence each
  std::vector<Reading> hidden;       ///< readings that a person has hidden
  std::vector<std::string> hung;     ///< devices that did not come back when they were looked at
  Json facts = Json::object();       ///< "name", "boot_id", "kernel" …
  std::vector<std::shared_ptr<InstrumentSource>> instruments;  ///< behind those of `sources` that are instruments
  std::shared_ptr<LoadSource> load;       ///< to which the load's news are told; empty without a load
  std::shared_ptr<sim::Bench> simulated;  ///< to be moved by whoever runs it; empty on a machine
};

struct SourceKind {
  std::string_view name;
  /// True when the description asks for one.
  bool (*isAsked)(const MachineDescription&);
  /// Opens it; may take seconds. `hung` are devices that did not answer before and are not asked again.
  void (*open)(const MachineDescription&, const std::vector<std::string>& hung, MachineParts& parts);
};

/// All of them, in the order in which their readings stand.
const std::vector<SourceKind>& sourceKinds();

}  // namespace ash
