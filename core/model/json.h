// SPDX-License-Identifier: GPL-3.0-or-later
// The one JSON type of the program: keys keep the order in which they were written.
#pragma once

#include <cmath>
#include <nlohmann/json.hpp>
#include <optional>

namespace ash {

using Json = nlohmann::ordered_json;

/// A number, or null where it is missing (NaN) or infinite. Missing is never zero.
inline Json numberOrNull(double value) { return std::isfinite(value) ? Json(value) : Json(nullptr); }
inline Json numberOrNull(const std::optional<double>& value) { return value ? numberOrNull(*value) : Json(nullptr); }

}  // namespace ash
