// SPDX-License-Identifier: GPL-3.0-or-later
// What a person has confirmed on this machine, kept outside of any book.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "model/active_parts.h"
#include "model/reading_choice.h"
#include "model/result.h"

namespace ash {

/// What is kept of a confirmation: SHA-256 (FIPS 180-4) over all that decides what happens (canonicalText()) and this
/// machine's id (machine-id(5)). Another folder, another environment, another machine: another key.
std::string confirmationKey(const ActivePart& part);

/// Keys that were confirmed, from $XDG_CONFIG_HOME/ash-gauge/confirmed.json (~/.config without it). A file that is
/// missing or broken confirms nothing.
std::set<std::string> confirmedKeys();

/// Confirms parts; the file is its user's alone (0600), is replaced whole, and two programs that write it at once both
/// have their say.
Status confirm(const std::vector<ActivePart>& parts);

/// One that was given: what it was, as it was shown then, a line a field; when (ISO 8601).
struct Confirmation {
  std::string key, kind, at;
  std::vector<std::string> what;
};
using ConfirmationList = std::vector<Confirmation>;
/// All that were given here, the last first. What stands in the file and is none is left out.
ConfirmationList confirmations();

/// Takes confirmations back, by their keys: what they allowed is asked for again before it is done. Runs that go on are
/// not touched.
Status takeBack(const std::set<std::string>& keys);

/// Those that nobody has confirmed here.
std::vector<ActivePart> unconfirmedOf(const std::vector<ActivePart>& parts);

/// Of what a book says of a machine's readings: what was said, or accepted, on this machine. The rest is a proposal.
struct SortedChoices {
  ReadingChoices accepted, proposed;
};
SortedChoices sortChoices(const std::string& machine, const ReadingChoices& choices);

}  // namespace ash
