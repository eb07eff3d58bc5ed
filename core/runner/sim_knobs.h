// SPDX-License-Identifier: GPL-3.0-or-later
// What can be turned on a simulated bench, under the names that a machine's knobs have.
#pragma once

#include "knobs/knob_hand.h"
#include "model/procedure.h"
#include "sim/bench.h"

namespace ash {

/// Power limits and highest clocks of its devices, duty and control of its fans, as they stand now.
std::vector<Knob> knobsOf(const sim::Bench& bench);

/// Whether there is a knob of that name.
Status canTurn(const sim::Bench& bench, const std::string& knob);
/// Turns one; refused: no such knob, out of its range.
Result<Turned> turnKnob(sim::Bench& bench, const KnobSetting& setting);
/// Whether it could be turned so.
Status checkKnob(const sim::Bench& bench, const KnobSetting& setting);

}  // namespace ash
