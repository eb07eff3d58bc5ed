// SPDX-License-Identifier: GPL-3.0-or-later
// What the readings of a machine mean, and where their limits are.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "model/reading.h"
#include "model/reading_choice.h"

namespace ash {

/// Gives every reading its role by rule (role_rules.h), and the throttle limit where its driver tells one. A role is
/// given once: a second device of the same kind takes a number on its first part ("gpu2.temp"), processors by their
/// socket. All readings of a device (deviceKey) have the same number. Then what a person has said is applied: a role
/// that was given by hand is taken from whatever else had it. Pure.
void assignRoles(const std::vector<Reading*>& readings, const ReadingChoices& choices = {});

/// Readings whose role is told by something that is no reading of the machine get the next number that is free. Pure.
void giveWay(const std::vector<Reading*>& readings, const std::set<std::string>& toldElsewhere);

/// Tells two devices of the same name apart by their place or serial number. Pure.
void tellDevicesApart(const std::vector<Reading*>& readings);

}  // namespace ash
