// SPDX-License-Identifier: GPL-3.0-or-later
// Who turns the knobs of a machine here, and what can be turned by whom.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "knobs/find_knobs.h"
#include "knobs/knob_hand.h"

namespace ash {

/// The helper is on the system bus or would be started by it. Asks the bus: not for the interface's thread.
bool isHelperThere();

/// Those that only want root can be turned by the helper.
std::vector<Knob> withHelper(std::vector<Knob> knobs);

/// The knobs below `root`, with whether they can be turned from here: by this process, or by the helper.
std::vector<Knob> knobsHere(const std::string& root);

/// The helper where one of the knobs wants root and it is there, else this process. $ASHG_TURN_HELPER=always takes the
/// helper for any machine or tree (docs/testing.md).
Result<std::unique_ptr<KnobHand>> openHand(const std::string& root, TurnedBy by);

/// Puts everything back that was turned, by a run or by hand: what this person's journal says, and the helper's.
Result<PutBack> putAllBack(const std::string& root);

}  // namespace ash
