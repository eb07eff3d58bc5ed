// SPDX-License-Identifier: GPL-3.0-or-later
// Fields of a setup's conditions for people: "power_limit_w": 88 is "Power limit", "88 W". A field's unit stands in its
// name; fields are the user's own, so any name gets a title.
#pragma once

#include <string>

#include "model/json.h"
#include "model/result.h"

namespace ash {

/// The codes of those that somebody asks for by name.
namespace fields {
inline constexpr char kRoom[] = "room_c", kPrice[] = "price", kCurrency[] = "currency", kNote[] = "note";
}

/// "power_limit_w" -> "Power limit".
std::string fieldTitle(const std::string& field);
/// The unit that the field's name carries: "W", "°C", "%", "MHz", "g", "cm", "mm", "min"; empty when it has none.
std::string fieldUnit(const std::string& field);
/// "88 W", "mesh with dust filter"; "–" when it is not stated.
std::string fieldText(const std::string& field, const Json& value);
/// The bare value: words as they are, a whole number without decimals ("60"), anything else as JSON.
std::string bareText(const Json& value);
/// "± 1.0 K", "± 2 %", "exact", "same".
std::string toleranceText(const std::string& field, const Json& target, double tolerance);
/// What a person typed as the value of a field: a number (with or without its unit, decimal comma allowed) or words.
Json parseFieldValue(const std::string& field, const std::string& typed);
/// The code of a field for what a person calls it: "Fan duty" -> "fan_duty"; known codes, and knobs ("cpu.clock.most",
/// "core voltage, V"), come back as they are.
std::string fieldCode(const std::string& title);

}  // namespace ash
