// SPDX-License-Identifier: GPL-3.0-or-later
// Under which names the readings of instruments stand beside the machine's, and what a person has said of them.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "machine/machine_description.h"

namespace ash {

/// Roles that a person has given to readings of instruments by hand: nothing else has them (which of two sources is
/// quoted).
std::set<std::string> rolesGivenToInstruments(const MachineDescription& description);

/// The columns of an instrument's readings, in their order. A role by hand stands as it is; one by rule, or a name,
/// that is `taken` is told apart by its number or by its instrument: both are kept. Adds them to `taken`; what was
/// `given` by hand (rolesGivenToInstruments()) goes to no other.
std::vector<std::string> columnsOf(const Instrument& instrument, const ReadingChoices& choices,
                                   std::set<std::string>& taken, const std::set<std::string>& given);

}  // namespace ash
