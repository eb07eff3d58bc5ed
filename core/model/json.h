// SPDX-License-Identifier: GPL-3.0-or-later
// The one JSON type of the program: keys keep the order in which they were written.
#pragma once

#include <cmath>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <type_traits>
#include <utility>

namespace ash {

using Json = nlohmann::ordered_json;

/// The value in one line. Bytes that are no UTF-8 become U+FFFD: names and paths may hold any, and nothing that writes
/// must stop for it.
std::string jsonText(const Json& value);

/// A number, or null where it is missing (NaN) or infinite. Missing is never zero.
inline Json numberOrNull(double value) { return std::isfinite(value) ? Json(value) : Json(nullptr); }
inline Json numberOrNull(const std::optional<double>& value) { return value ? numberOrNull(*value) : Json(nullptr); }

/// A value of an object by its key; `fallback` where the object is none, the key is missing, or the value is of another
/// kind or out of range. Never throws: objects come from books and sockets.
template <typename T>
T valueIn(const Json& object, const char* key, T fallback) {
  const auto found = object.is_object() ? object.find(key) : object.end();
  if (found == object.end()) return fallback;
  if constexpr (std::is_same_v<T, Json>) {
    return *found;
  } else if constexpr (std::is_same_v<T, bool>) {
    return found->is_boolean() ? found->template get<bool>() : fallback;
  } else if constexpr (std::is_integral_v<T>) {
    if (found->is_number_unsigned()) {
      const auto number = found->template get<unsigned long long>();
      return std::in_range<T>(number) ? static_cast<T>(number) : fallback;
    }
    if (!found->is_number_integer()) return fallback;
    const auto number = found->template get<long long>();
    return std::in_range<T>(number) ? static_cast<T>(number) : fallback;
  } else if constexpr (std::is_floating_point_v<T>) {
    return found->is_number() ? found->template get<T>() : fallback;
  } else {
    return found->is_string() ? found->template get<std::string>() : std::string(fallback);
  }
}
inline std::string valueIn(const Json& object, const char* key, const char* fallback) {
  return valueIn(object, key, std::string(fallback));
}

/// Text from elsewhere (a book, a sidecar, a socket) as an object: what is nested deeper than 64 levels is left out,
/// what is no object becomes an empty one. Throws Json::exception when it is no JSON.
Json parseObject(const std::string& text);

/// The same, but a discarded value (is_discarded()) when it is no JSON.
Json parseQuietly(const std::string& text);

}  // namespace ash
