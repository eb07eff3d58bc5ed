// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/active_parts.h"

#include <algorithm>
#include <array>
#include <optional>
#include <string_view>

#include "model/knob_condition.h"
#include "model/load_way.h"
#include "model/procedure.h"
#include "model/text.h"

namespace ash {

std::optional<ActivePart> activePart(const std::string& where, const std::string& phases) {
  const auto procedure = parsePhases(phases);
  if (!procedure) return std::nullopt;
  std::string text;
  for (const WrittenPhase& written : asWritten(*procedure)) {
    for (const KnobSetting& setting : procedure->phases[written.index].settings)
      text += (text.empty() ? "set " : ", set ") + setting.knob + " " + setting.value;
  }
  if (text.empty()) return std::nullopt;
  return ActivePart{where, ActiveKind::Knob, text, {{"phases", phases}}};
}

namespace {

// What stands under a key; none for a key that does nothing.
std::optional<ActiveKind> kindOfKey(std::string_view key) {
  constexpr std::array<std::pair<std::string_view, ActiveKind::Known>, 4> kKeys = {{{"command", ActiveKind::Command},
                                                                                    {"address", ActiveKind::Address},
                                                                                    {"knob", ActiveKind::Knob},
                                                                                    {"knobs", ActiveKind::Knob}}};
  const auto found = std::find_if(kKeys.begin(), kKeys.end(), [&](const auto& row) { return row.first == key; });
  if (found != kKeys.end()) return ActiveKind(found->second);
  return isKnobId(key) ? std::optional<ActiveKind>(ActiveKind::Knob) : std::nullopt;
}

// A list of words is a command with its arguments; anything else is told as it is written.
std::string textOf(const Json& value) { return value.is_string() ? value.get<std::string>() : jsonText(value); }

/// An active value that was found, and the object in which it stands.
struct Hit {
  ActiveKind kind;
  std::string text;
  const Json* around;
};

void findIn(const Json& object, std::vector<Hit>& hits) {
  if (!object.is_structured()) return;
  for (const auto& [key, value] : object.items()) {
    const auto kind = object.is_object() ? kindOfKey(key) : std::nullopt;
    if (!kind)
      findIn(value, hits);
    else if (!value.is_null() && !textOf(value).empty())
      hits.push_back({*kind, textOf(value), &object});
  }
}

// The whole object around the value decides, not the value alone; of a setup or plan itself only the value's own key.
void collect(const std::string& where, const Json& object, std::vector<ActivePart>& parts) {
  std::vector<Hit> hits;
  findIn(object, hits);
  for (const Hit& hit : hits) {
    Json body = *hit.around;
    if (hit.around == &object) {
      body = Json::object();
      for (const auto& [key, value] : object.items()) {
        if (kindOfKey(key) == hit.kind && textOf(value) == hit.text) body[key] = value;
      }
    }
    parts.push_back({where, hit.kind, hit.text, std::move(body)});
  }
}

void collectSetup(const Setup& setup, std::vector<ActivePart>& parts) {
  collect("setup " + setup.name, setup.parts, parts);
  collect("setup " + setup.name, setup.conditions, parts);
}

void collectPlan(const Json& plan, std::vector<ActivePart>& parts) {
  collect("plan", plan, parts);
  if (auto phases = activePart("plan", valueIn(plan, "phases", ""))) parts.push_back(std::move(*phases));
  // Those that ship have plain names.
  const std::string bench = valueIn(plan, "bench", "");
  if (!bench.empty() && !isPlainId(bench)) parts.push_back({"plan", ActiveKind::Bench, bench, {{"bench", bench}}});
}

// What each setup makes of a load: once where all do the same.
void collectLoad(const Study& study, const Load& load, std::vector<ActivePart>& parts) {
  std::vector<ActivePart> all;
  const auto add = [&](const Json& spec, const std::string& setup) {
    for (ActivePart& part : activeParts(Load{load.name, spec, 0})) {
      const bool isThere =
          std::any_of(all.begin(), all.end(), [&](const ActivePart& one) { return one.body == part.body; });
      if (isThere) continue;
      if (!setup.empty() && !all.empty()) part.where += ", setup " + setup;
      all.push_back(std::move(part));
    }
  };
  for (const Setup& setup : study.setups) {
    const auto spec = specOf(study, load, setup.name);
    add(spec ? *spec : load.spec, setup.name);
  }
  if (study.setups.empty()) add(load.spec, {});
  for (ActivePart& part : all) parts.push_back(std::move(part));
}

// Zero-width characters and those that turn the direction of writing (Unicode, UAX #9), as UTF-8.
bool hidesSomething(const std::string& text) {
  if (withoutControls(text) != text) return true;
  constexpr std::array kFirst = {"\xE2\x80\x8B", "\xE2\x80\x8C", "\xE2\x80\x8D", "\xE2\x80\x8E", "\xE2\x80\x8F",
                                 "\xE2\x80\xAA", "\xE2\x80\xAB", "\xE2\x80\xAC", "\xE2\x80\xAD", "\xE2\x80\xAE",
                                 "\xE2\x81\xA6", "\xE2\x81\xA7", "\xE2\x81\xA8", "\xE2\x81\xA9", "\xEF\xBB\xBF"};
  return std::any_of(kFirst.begin(), kFirst.end(),
                     [&](const char* hidden) { return text.find(hidden) != std::string::npos; });
}

std::string shown(const std::string& text) {
  const std::string clean = asUtf8(text);
  return hidesSomething(clean) ? Json(clean).dump(-1, ' ', true, Json::error_handler_t::replace) : clean;
}

void addLines(const std::string& name, const Json& value, std::vector<std::string>& lines) {
  if (!value.is_structured()) {
    lines.push_back(shown(name) + ": " + shown(textOf(value)));
    return;
  }
  const std::string before = name.empty() ? "" : name + ".";
  size_t number = 0;
  for (const auto& [key, one] : value.items())
    addLines(before + (value.is_array() ? std::to_string(++number) : key), one, lines);
}

}  // namespace

std::vector<std::string> detailLines(const ActivePart& part) {
  std::vector<std::string> lines;
  addLines("", part.body, lines);
  return lines;
}

std::string canonicalText(const ActivePart& part) {
  // The plain JSON type keeps its keys in alphabetical order.
  const nlohmann::json whole = {{"kind", part.kind.text()}, {"body", nlohmann::json::parse(jsonText(part.body))}};
  return whole.dump(-1, ' ', true, nlohmann::json::error_handler_t::replace);
}

std::vector<ActivePart> activeParts(const Load& load) {
  std::vector<Hit> hits;
  findIn(load.spec, hits);
  if (hits.empty()) return {};
  return {{"load " + load.name, hits.front().kind, hits.front().text, load.spec}};
}

std::vector<ActivePart> activeParts(const Study& study) {
  std::vector<ActivePart> parts;
  collectPlan(study.plan, parts);
  for (const Setup& setup : study.setups) collectSetup(setup, parts);
  for (const Load& load : study.loads) collectLoad(study, load, parts);
  return parts;
}

std::vector<ActivePart> activeParts(const Study& study, const std::string& setup, const std::string& load) {
  std::vector<ActivePart> parts;
  collectPlan(study.plan, parts);
  for (const Setup& row : study.setups) {
    if (row.name == setup) collectSetup(row, parts);
  }
  for (const Load& row : study.loads) {
    if (row.name != load) continue;
    // As it would run: what a field holds is filled in once, here as there.
    const auto spec = specOf(study, row, setup);
    for (ActivePart& part : activeParts(Load{row.name, spec ? *spec : row.spec, 0})) parts.push_back(std::move(part));
  }
  return parts;
}

ActivePart activePart(const std::string& machine, const std::string& reading, const ReadingChoice& choice) {
  const Json said = valueIn(choicesToJson({{reading, choice}}), reading.c_str(), Json::object());
  std::string words;
  for (const auto& [key, value] : said.items()) words += (words.empty() ? "" : ", ") + key + " " + textOf(value);
  return {
      "reading " + reading, ActiveKind::Reading, words, {{"machine", machine}, {"reading", reading}, {"said", said}}};
}

}  // namespace ash
