// SPDX-License-Identifier: GPL-3.0-or-later
// A reading of an instrument as a person writes it in one line: "wall.power=MEAS:POW? W ±0.5 % + 0.2 W".
#pragma once

#include <string>

#include "instruments/instrument.h"
#include "model/json.h"
#include "model/result.h"

namespace ash {

/// ROLE=QUERY [UNIT] [±ACCURACY] as it stands in the file of instruments. QUERY is what the kind asks for: a query, a
/// metric with labels (`name{label="value"}`), a pattern. What is no role becomes a name. The last word is the unit
/// when it is one. Of a microphone there is no query:
/// "noise ±1.5 dBA". Refused: no "=", nothing after it.
Result<Json> parseSpokenReading(const std::string& text, InstrumentKind kind);

/// QUERY [UNIT] of a reading, as parseSpokenReading takes it: "MEAS:POW? W", `bench/air#/t °C`, `name{label="value"}`.
std::string spokenQuery(const InstrumentReading& reading);

/// A reading of the file said anew: what no line tells (its place, which measure) stays as it stood.
void sayAnew(Json& reading, const Json& spoken);

/// What is asked for, in one line: "MEAS:POW? in W, ±0.5 % + 0.2 W".
std::string askedText(const InstrumentReading& reading);

}  // namespace ash
