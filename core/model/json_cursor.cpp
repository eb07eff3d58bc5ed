// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/json_cursor.h"

#include <fmt/format.h>

#include <cmath>

namespace ash {
namespace {
constexpr size_t kMostMistakes = 100;
constexpr double kNoNumber = std::numeric_limits<double>::quiet_NaN();
}  // namespace

std::string JsonRange::words() const {
  if (std::isfinite(most))
    return fmt::format("must be {} {:g} {} {:g}", isAbove ? "above" : "from", least, isAbove ? "and at most" : "to",
                       most);
  if (isAbove) return least == 0 ? "must be above zero" : fmt::format("must be above {:g}", least);
  return least == 0 ? "must not be below zero" : fmt::format("must be at least {:g}", least);
}

const Json& JsonCursor::value() const {
  static const Json kNothing;
  return m_value == nullptr ? kNothing : *m_value;
}

const Json* JsonCursor::find(std::string_view key) const {
  m_asked.emplace(key);
  if (!isObject()) return nullptr;
  const auto found = m_value->find(std::string(key));
  return found == m_value->end() ? nullptr : &*found;
}

std::string JsonCursor::pathOf(std::string_view key) const {
  return m_path.empty() ? std::string(key) : m_path + "." + std::string(key);
}

void JsonCursor::note(std::string path, std::string why) const {
  if (m_mistakes->size() < kMostMistakes) m_mistakes->push_back({std::move(path), std::move(why)});
}

JsonCursor JsonCursor::at(std::string_view key) const { return {find(key), m_mistakes, pathOf(key)}; }

JsonCursor JsonCursor::object(std::string_view key) const {
  JsonCursor place = at(key);
  if (place.isThere() && !place.isObject()) place.refuse("must be an object");
  return place;
}

void JsonCursor::take(std::string_view key, double& value, const JsonRange& range) const {
  const JsonCursor place = at(key);
  if (!place.isThere()) return;
  if (!place.value().is_number()) return place.refuse("must be a number");
  const double number = place.value().get<double>();
  if (!range.holds(number)) return place.refuse(range.words());
  value = number;
}

// A whole number, however it is written: 4 and 4.0.
template <typename T>
void JsonCursor::takeWhole(std::string_view key, T& value, const JsonRange& range) const {
  double number = kNoNumber;
  take(key, number, range);
  if (std::isnan(number)) return;
  const bool fits = number == std::floor(number) && number >= static_cast<double>(std::numeric_limits<T>::lowest()) &&
                    number < static_cast<double>(std::numeric_limits<T>::max());
  if (!fits) return refuse(key, "must be a whole number");
  value = static_cast<T>(number);
}

void JsonCursor::take(std::string_view key, int& value, const JsonRange& range) const { takeWhole(key, value, range); }
void JsonCursor::take(std::string_view key, long long& value, const JsonRange& range) const {
  takeWhole(key, value, range);
}
void JsonCursor::take(std::string_view key, size_t& value) const { takeWhole(key, value, kNotNegative); }

void JsonCursor::take(std::string_view key, bool& value) const {
  const JsonCursor place = at(key);
  if (!place.isThere()) return;
  if (!place.value().is_boolean()) return place.refuse("must be true or false");
  value = place.value().get<bool>();
}

void JsonCursor::take(std::string_view key, std::string& value) const {
  const JsonCursor place = at(key);
  if (!place.isThere()) return;
  if (!place.value().is_string()) return place.refuse("must be a text");
  value = place.value().get<std::string>();
}

void JsonCursor::take(std::string_view key, std::vector<std::string>& value) const {
  const JsonCursor place = at(key);
  if (!place.isThere()) return;
  if (!place.value().is_array()) return place.refuse("must be a list of texts");
  value.clear();
  for (const Json& word : place.value()) {
    if (word.is_string())
      value.push_back(word.get<std::string>());
    else
      place.refuse("must be a list of texts");
  }
}

void JsonCursor::take(std::string_view key, std::map<std::string, std::string>& value) const {
  const JsonCursor place = at(key);
  if (!place.isThere()) return;
  if (!place.value().is_object()) return place.refuse("must be an object of texts");
  for (const auto& [name, text] : place.value().items()) {
    if (text.is_string())
      value[name] = text.get<std::string>();
    else
      place.refuse("must be an object of texts");
  }
}

void JsonCursor::take(std::string_view key, std::map<std::string, double>& value) const {
  for (const auto& [name, place] : fields(key)) {
    if (place.value().is_number())
      value[name] = place.value().get<double>();
    else if (place.isThere())
      place.refuse("must be a number");
  }
}

void JsonCursor::takeObject(std::string_view key, Json& value) const {
  const JsonCursor place = at(key);
  if (!place.isThere()) return;
  if (!place.isObject()) return place.refuse("must be an object");
  value = place.value();
}

std::string JsonCursor::text(std::string_view key, std::string otherwise) const {
  take(key, otherwise);
  return otherwise;
}

double JsonCursor::number(std::string_view key, const JsonRange& range) const {
  double value = kNoNumber;
  take(key, value, range);
  return value;
}

std::vector<JsonCursor> JsonCursor::objects(std::string_view key) const {
  const JsonCursor list = at(key);
  std::vector<JsonCursor> all;
  if (!list.isThere()) return all;
  if (!list.value().is_array()) {
    list.refuse("must be a list");
    return all;
  }
  for (size_t i = 0; i < list.value().size(); ++i) {
    JsonCursor place(list.value()[i], *m_mistakes, fmt::format("{}[{}]", list.path(), i));
    if (place.isObject())
      all.push_back(std::move(place));
    else
      place.refuse("must be an object");
  }
  return all;
}

std::vector<std::pair<std::string, JsonCursor>> JsonCursor::fields(std::string_view key) const {
  const JsonCursor object = at(key);
  if (!object.isThere()) return {};
  return object.fields();
}

std::vector<std::pair<std::string, JsonCursor>> JsonCursor::fields() const {
  std::vector<std::pair<std::string, JsonCursor>> all;
  if (!isObject()) {
    refuse("must be an object");
    return all;
  }
  for (const auto& [name, value] : m_value->items())
    all.emplace_back(name, JsonCursor(&value, m_mistakes, pathOf(name)));
  return all;
}

Json JsonCursor::unasked() const {
  Json rest = Json::object();
  if (!isObject()) return rest;
  for (const auto& [key, value] : m_value->items()) {
    if (!m_asked.contains(key)) rest[key] = value;
  }
  return rest;
}

}  // namespace ash
