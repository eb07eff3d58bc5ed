// SPDX-License-Identifier: GPL-3.0-or-later
// The person's own file of instruments: $XDG_CONFIG_HOME/ash-gauge/instruments.json, or the one that is named.
#pragma once

#include <string>
#include <vector>

#include "instruments/instrument.h"
#include "model/json.h"
#include "model/result.h"

namespace ash {

/// "without any".
inline constexpr char kNoInstruments[] = "none";

/// The person's own file; ~/.config without XDG_CONFIG_HOME. Empty when there is no home.
std::string ownInstrumentFile();

/// Those of a text. Refused as a whole, with file, place and reason: what is no JSON, an unknown key, a unit of another
/// quantity, a role twice within one instrument, a name twice.
Result<std::vector<Instrument>> parseInstruments(const std::string& text, const std::string& where);

/// Those of a file of at most 4 MiB. `named` is what was asked for: a path, kNoInstruments, or empty for the person's
/// own, which may be missing.
Result<std::vector<Instrument>> readInstruments(const std::string& named);

/// One instrument as it stands in the file.
Json instrumentToJson(const Instrument& instrument);

/// One more, checked as the whole file is; the file is made when it is missing, its user's alone (0600). A name that is
/// there already is refused.
Status addInstrument(const std::string& named, const Json& instrument);
/// Another one in the place of that name, checked likewise. Refused when there is none of that name, or when the new
/// name is another's.
Status changeInstrument(const std::string& named, const std::string& name, const Json& instrument);
/// Keeps what full scale of a microphone is. Refused when there is none of that name.
Status calibrateInstrument(const std::string& named, const std::string& name, double fullScaleDb);
/// Refused when there is none of that name.
Status removeInstrument(const std::string& named, const std::string& name);

}  // namespace ash
