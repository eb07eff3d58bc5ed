// SPDX-License-Identifier: GPL-3.0-or-later
// From what the readings of a bench are put together.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "instruments/instrument.h"
#include "load/load_worker.h"
#include "model/reading_choice.h"
#include "sim/bench_spec.h"

namespace ash {

/// A bench that is computed instead of read.
struct SimulatedMachine {
  sim::BenchSpec spec;
  std::string name;   ///< by which it was asked for: "larch12", or a path
  uint64_t seed = 1;  ///< of its noise
};

struct MachineDescription {
  std::string root;                      ///< "" = this machine, else a tree that looks like one
  ReadingChoices choices;                ///< what a person has said of its readings
  std::optional<LoadOptions> load = {};  ///< what will be started here: its own readings stand beside the machine's
  std::optional<SimulatedMachine> simulated = {};  ///< instead of the kernel's readings
  std::vector<Instrument> instruments = {};        ///< from outside, beside what the machine tells itself
};

}  // namespace ash
