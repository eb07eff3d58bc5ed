// SPDX-License-Identifier: GPL-3.0-or-later
// Whether the knob of a ladder is there and goes as far as it asks.
#pragma once

#include <string>

#include "knobs/knob.h"
#include "ladder/ladder.h"

namespace ash {

/// What can be turned on the ladder's bench: kernel, tree, or simulated bench with the setup as the book knows it. Not
/// for the interface's thread.
Result<std::vector<Knob>> knobsFor(const std::string& bookPath, const LadderAsk& ask);

/// What runs of a setup could turn: of the simulated bench `sim` as it is without the setup's own knobs, else of the
/// machine at `root`. Not for the interface's thread.
Result<std::vector<Knob>> knobsOfSetup(const Setup& setup, const std::string& sim, const std::string& root);

/// Looks at the ladder's bench and fills in the
/// knob's unit. Refused: no such knob, one that cannot be turned or has no numbers, values out of its range. A name
/// that is no id is a knob of the person's own.
Status checkLadderKnob(const std::string& bookPath, LadderAsk& ask);

}  // namespace ash
