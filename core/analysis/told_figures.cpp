// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/told_figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>
#include <string_view>

namespace ash {
namespace {

using ToldValues = std::vector<std::pair<ToldPlace, Json>>;

// What tells nothing of a run: the document itself, sentences, and what follows from other values.
bool isLeftOut(std::string_view key) {
  constexpr std::array<std::string_view, 9> kLeftOut = {
      "contract", "figures_method", "text", "reason", "definitions", "definition", "started", "accepted", "beside"};
  for (const std::string_view one : kLeftOut) {
    if (one == key) return true;
  }
  return false;
}

// What a part of a list is of; empty where it cannot be known again.
std::string nameOfPart(const Json& part) {
  std::string name;
  for (const char* key : {"setup", "device", "channel", "run", "load"}) {
    const std::string value = valueIn(part, key, "");
    if (value.empty()) continue;
    if (name.empty())
      name = value;
    else if (std::string_view(key) == "load")
      name += " under " + value;
  }
  return name;
}

void collect(const Json& value, ToldPlace& place, ToldValues& values) {
  if (value.is_object()) {
    for (const auto& [key, inner] : value.items()) {
      if (isLeftOut(key)) continue;
      place.push_back(key);
      collect(inner, place, values);
      place.pop_back();
    }
  } else if (value.is_array()) {
    // Two parts of one name are none of them known again.
    std::map<std::string, int> seen;
    for (const Json& part : value) ++seen[nameOfPart(part)];
    for (const Json& part : value) {
      const std::string name = nameOfPart(part);
      if (name.empty() || seen[name] > 1) continue;
      place.push_back(name);
      collect(part, place, values);
      place.pop_back();
    }
  } else if (!value.is_null()) {
    values.emplace_back(place, value);
  }
}

// A page's document has a comparison for each load; its rows stand as those of one comparison would.
ToldValues valuesOf(const Json& document) {
  ToldValues values;
  ToldPlace place;
  const Json loads = valueIn(document, "loads", Json());
  if (!loads.is_array()) {
    collect(document, place, values);
    return values;
  }
  for (const Json& load : loads) collect(valueIn(load, "comparison", Json::object()), place, values);
  return values;
}

// The setup, channel or device that a value belongs to.
ToldPlace partOf(const ToldPlace& place) {
  constexpr size_t kDepth = 2;
  return {place.begin(), place.begin() + static_cast<std::ptrdiff_t>(std::min(place.size(), kDepth))};
}

constexpr double kEqual = 1e-9;

bool isSame(const Json& a, const Json& b) {
  if (!a.is_number() || !b.is_number()) return a == b;
  const double x = a.get<double>(), y = b.get<double>();
  return std::abs(x - y) <= kEqual * std::max({1.0, std::abs(x), std::abs(y)});
}

}  // namespace

Result<FiguresBeside> besideTold(const Json& was, const Json& now, const std::string& where) {
  FiguresBeside beside;
  beside.wasMethod = valueIn(was, "figures_method", "");
  beside.nowMethod = valueIn(now, "figures_method", "");
  if (beside.wasMethod.empty())
    return Error::badInput(fmt::format(
        "{} tells no figures: give what \"ashg analyze --json\" or \"ashg compare --json\" wrote earlier.", where));
  std::map<ToldPlace, Json> earlier;
  for (auto& [place, value] : valuesOf(was)) earlier.emplace(std::move(place), std::move(value));
  std::set<ToldPlace> shared;
  for (auto& [place, value] : valuesOf(now)) {
    const auto told = earlier.find(place);
    if (told == earlier.end()) {
      beside.gained.push_back(place);
      continue;
    }
    shared.insert(place);
    if (isSame(told->second, value))
      ++beside.same;
    else
      beside.moved.push_back({place, told->second, value});
  }
  if (shared.empty())
    return Error::badInput(fmt::format(
        "{} holds figures of something else: of the places it tells of, none is told here; give what the same command "
        "wrote earlier.",
        where));
  std::set<ToldPlace> parts;
  for (const ToldPlace& place : shared) parts.insert(partOf(place));
  for (auto& [place, value] : valuesOf(was)) {
    if (!shared.contains(place) && parts.contains(partOf(place))) beside.lost.push_back({place, value, nullptr});
  }
  return beside;
}

Json besideToJson(const FiguresBeside& beside) {
  Json moved = Json::array(), lost = Json::array();
  for (const MovedFigure& one : beside.moved)
    moved.push_back({{"place", one.place}, {"was", one.was}, {"now", one.now}});
  for (const MovedFigure& one : beside.lost) lost.push_back({{"place", one.place}, {"was", one.was}});
  return {{"figures_method", beside.wasMethod},
          {"same", beside.same},
          {"moved", std::move(moved)},
          {"gained", beside.gained},
          {"lost", std::move(lost)}};
}

}  // namespace ash
