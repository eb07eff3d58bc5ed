// SPDX-License-Identifier: GPL-3.0-or-later
// The one way in for JSON from elsewhere: a place in a document that is read key by key and knows its path.
#pragma once

#include <limits>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "model/json.h"

namespace ash {

/// What a document holds that it should not.
struct JsonMistake {
  std::string path;  ///< "events[3].at_s"
  std::string why;   ///< "must be a number"
};

/// Bounds of a number, both included; `isAbove` leaves `least` itself out.
struct JsonRange {
  double least = -std::numeric_limits<double>::infinity();
  double most = std::numeric_limits<double>::infinity();
  bool isAbove = false;
  bool holds(double value) const { return (isAbove ? value > least : value >= least) && value <= most; }
  /// "must be above zero", "must be from 1 to 64".
  std::string words() const;
};
inline constexpr JsonRange kAboveZero{0, std::numeric_limits<double>::infinity(), true};
inline constexpr JsonRange kNotNegative{0};

/// An object of a document. What is read into keeps its value where the key is missing or null (both are the same), and
/// where the value is of another kind or out of range, which is then a mistake. Whoever must refuse a document asks for
/// the first mistake at the end; whoever takes what can be taken lets them be (the first hundred are kept). The
/// document must outlive its cursors.
class JsonCursor {
 public:
  using Mistakes = std::vector<JsonMistake>;
  JsonCursor(const Json& value, Mistakes& mistakes, std::string path = {})
      : m_value(&value), m_mistakes(&mistakes), m_path(std::move(path)) {}

  /// False where the key was missing or null.
  bool isThere() const { return m_value != nullptr && !m_value->is_null(); }
  bool isObject() const { return isThere() && m_value->is_object(); }
  const std::string& path() const { return m_path; }
  /// The value itself; null where it is not there.
  const Json& value() const;
  bool has(std::string_view key) const { return find(key) != nullptr; }
  /// The value under a key, as a place of its own. Not there when the key is missing.
  JsonCursor at(std::string_view key) const;
  /// The same for what must be an object: anything else that stands there is a mistake.
  JsonCursor object(std::string_view key) const;

  // Optional fields.
  void take(std::string_view key, double& value, const JsonRange& range = {}) const;
  void take(std::string_view key, int& value, const JsonRange& range = {}) const;
  void take(std::string_view key, long long& value, const JsonRange& range = {}) const;
  void take(std::string_view key, size_t& value) const;
  void take(std::string_view key, bool& value) const;
  void take(std::string_view key, std::string& value) const;
  /// Of a list only the texts are taken; anything else in it is a mistake.
  void take(std::string_view key, std::vector<std::string>& value) const;
  void take(std::string_view key, std::map<std::string, std::string>& value) const;
  /// A null in it is a number that is not known, and left out.
  void take(std::string_view key, std::map<std::string, double>& value) const;
  /// Any object.
  void takeObject(std::string_view key, Json& value) const;
  /// The same, but a mistake when the key is missing or null.
  template <typename T, typename... More>
  void need(std::string_view key, T& value, const More&... more) const {
    if (!at(key).isThere())
      refuse(key, "is missing");
    else
      take(key, value, more...);
  }
  /// A text, or `otherwise`.
  std::string text(std::string_view key, std::string otherwise = {}) const;
  /// A number, or missing.
  double number(std::string_view key, const JsonRange& range = {}) const;

  /// The objects of a list, by their places; what is no object is a mistake and left out.
  std::vector<JsonCursor> objects(std::string_view key) const;
  /// What an object holds, by its keys, in their order; a mistake when it is none.
  std::vector<std::pair<std::string, JsonCursor>> fields(std::string_view key) const;
  /// Of this object itself.
  std::vector<std::pair<std::string, JsonCursor>> fields() const;

  /// Notes a mistake of this place, or of a key below it.
  void refuse(std::string why) const { note(m_path, std::move(why)); }
  void refuse(std::string_view key, std::string why) const { note(pathOf(key), std::move(why)); }

  /// Keys that nobody has asked for, with their values, as they stood: what another version wrote is kept.
  Json unasked() const;

 private:
  JsonCursor(const Json* value, Mistakes* mistakes, std::string path)
      : m_value(value), m_mistakes(mistakes), m_path(std::move(path)) {}
  const Json* find(std::string_view key) const;
  std::string pathOf(std::string_view key) const;
  void note(std::string path, std::string why) const;
  template <typename T>
  void takeWhole(std::string_view key, T& value, const JsonRange& range) const;

  const Json* m_value;
  Mistakes* m_mistakes;
  std::string m_path;
  mutable std::set<std::string, std::less<>> m_asked;
};

}  // namespace ash
