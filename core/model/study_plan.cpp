// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/study_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "model/text.h"
#include "model/typed_reading.h"

namespace ash {
namespace {

using When = OwedReading::When;
struct WhenName {
  When when;
  const char* code;
  const char* words;
};
constexpr std::array kWhen = {WhenName{When::AtRest, "rest", "at rest"},
                              WhenName{When::Settled, "settled", "when settled"},
                              WhenName{When::AtEnd, "end", "at the end"}};

std::string textOf(const Json& object, const char* key, const std::string& otherwise = "") {
  const auto found = object.find(key);
  return found != object.end() && found->is_string() ? found->get<std::string>() : otherwise;
}

double numberOf(const Json& object, const char* key, double otherwise) {
  const auto found = object.find(key);
  return found != object.end() && found->is_number() ? found->get<double>() : otherwise;
}

std::vector<std::string> wordsOf(const Json& object, const char* key) {
  std::vector<std::string> words;
  const auto found = object.find(key);
  if (found == object.end() || !found->is_array()) return words;
  for (const Json& word : *found) {
    if (word.is_string()) words.push_back(word.get<std::string>());
  }
  return words;
}

// The entries of an array that are objects.
std::vector<Json> objectsOf(const Json& object, const char* key) {
  std::vector<Json> objects;
  const auto found = object.find(key);
  if (found == object.end() || !found->is_array()) return objects;
  for (const Json& entry : *found) {
    if (entry.is_object()) objects.push_back(entry);
  }
  return objects;
}

When whenOf(const std::string& code) {
  const auto found = std::find_if(kWhen.begin(), kWhen.end(), [&](const WhenName& name) { return code == name.code; });
  return found == kWhen.end() ? When::Settled : found->when;
}

const WhenName& nameOf(When when) {
  return *std::find_if(kWhen.begin(), kWhen.end(), [&](const WhenName& name) { return name.when == when; });
}

WriteUpPlan writeUpFromJson(const Json& json) {
  WriteUpPlan writeUp;
  if (!json.is_object()) return writeUp;
  writeUp.leftOut = wordsOf(json, "left_out");
  writeUp.order = wordsOf(json, "order");
  const auto comments = json.find("comments");
  if (comments == json.end() || !comments->is_object()) return writeUp;
  for (const auto& [block, words] : comments->items()) {
    if (words.is_string()) writeUp.comments[block] = words.get<std::string>();
  }
  return writeUp;
}

}  // namespace

StudyPlan planFromJson(const Json& json) {
  StudyPlan plan;
  if (!json.is_object()) return plan;
  for (const Json& entry : objectsOf(json, "held")) {
    if (const std::string field = textOf(entry, "field"); !field.empty())
      plan.held.push_back({field, valueIn(entry, "target", Json()), numberOf(entry, "tolerance", kMissing)});
  }
  plan.underTest = wordsOf(json, "under_test");
  plan.figure = textOf(json, "figure");
  if (const double margin = numberOf(json, "margin_k", kMissing); margin >= 0) plan.marginK = margin;
  plan.equal = textOf(json, "equal");
  if (const double scatter = numberOf(json, "repeatability_k", kMissing); scatter >= 0) plan.repeatabilityK = scatter;
  plan.repeats = static_cast<int>(std::clamp(numberOf(json, "repeats", plan.repeats), 1.0, 20.0));
  for (const Json& entry : objectsOf(json, "by_hand")) {
    if (const std::string role = textOf(entry, "role"); !role.empty())
      plan.byHand.push_back({role, textOf(entry, "place"), whenOf(textOf(entry, "when")),
                             std::max(0.0, numberOf(entry, "plus_minus", 0)),
                             std::max(0.0, numberOf(entry, "percent", 0))});
  }
  plan.reference = textOf(json, "reference");
  plan.phases = textOf(json, "phases", plan.phases);
  plan.stopRules = wordsOf(json, "stop_rules");
  plan.bench = textOf(json, "bench");
  plan.speed = std::clamp(numberOf(json, "speed", plan.speed), 1.0, 1e5);
  plan.writeUp = writeUpFromJson(valueIn(json, "write_up", Json()));
  const Json known = planToJson({});
  for (const auto& [key, value] : json.items()) {
    if (!known.contains(key)) plan.rest[key] = value;
  }
  return plan;
}

Json planToJson(const StudyPlan& plan) {
  Json held = Json::array(), byHand = Json::array();
  for (const HeldCondition& condition : plan.held) {
    held.push_back(
        {{"field", condition.field}, {"target", condition.target}, {"tolerance", numberOrNull(condition.tolerance)}});
  }
  for (const OwedReading& owed : plan.byHand) {
    byHand.push_back({{"role", owed.role.text()}, {"place", owed.place}, {"when", nameOf(owed.when).code}});
    if (owed.plusMinus > 0) byHand.back()["plus_minus"] = owed.plusMinus;
    if (owed.percent > 0) byHand.back()["percent"] = owed.percent;
  }
  Json json = {
      {"held", held},
      {"under_test", plan.underTest},
      {"figure", plan.figure},
      {"margin_k", numberOrNull(plan.marginK)},
      {"equal", plan.equal},
      {"repeatability_k", numberOrNull(plan.repeatabilityK)},
      {"repeats", plan.repeats},
      {"by_hand", byHand},
      {"reference", plan.reference},
      {"phases", plan.phases},
      {"stop_rules", plan.stopRules},
      {"bench", plan.bench},
      {"speed", plan.speed},
      {"write_up",
       {{"left_out", plan.writeUp.leftOut}, {"order", plan.writeUp.order}, {"comments", Json(plan.writeUp.comments)}}}};
  for (const auto& [key, value] : plan.rest.items()) json[key] = value;
  return json;
}

std::string referenceSetup(const Study& study, const StudyPlan& plan) {
  if (setupIndexIn(study, plan.reference) >= 0) return plan.reference;
  return study.setups.empty() ? std::string() : study.setups.front().name;
}

int setupIndexIn(const Study& study, const std::string& setup) {
  const auto found =
      std::find_if(study.setups.begin(), study.setups.end(), [&](const Setup& known) { return known.name == setup; });
  return found == study.setups.end() ? -1 : static_cast<int>(found - study.setups.begin());
}

namespace {

// "noise 50 cm ±1.5", "wall ±1 %": taken off the end. False when what follows ± is no number.
bool takeAccuracy(std::string& item, OwedReading& reading) {
  constexpr std::string_view kSign = "±";
  const size_t at = item.find(kSign);
  if (at == std::string::npos) return true;
  std::string number(trimmed(std::string_view(item).substr(at + kSign.size())));
  item = std::string(trimmed(std::string_view(item).substr(0, at)));
  const bool isShare = number.ends_with("%");
  if (isShare) number = std::string(trimmed(std::string_view(number).substr(0, number.size() - 1)));
  const auto value = parseNumber(number);
  if (!value || *value < 0) return false;
  (isShare ? reading.percent : reading.plusMinus) = *value;
  return true;
}

}  // namespace

Result<std::vector<OwedReading>> parseOwedList(const std::string& text) {
  std::vector<OwedReading> owed;
  for (const std::string_view part : splitText(text, ',')) {
    std::string item(trimmed(part));
    if (item.empty()) continue;
    OwedReading reading;
    for (const WhenName& name : kWhen) {
      if (!item.ends_with(name.words)) continue;
      reading.when = name.when;
      item = std::string(trimmed(std::string_view(item).substr(0, item.size() - std::string_view(name.words).size())));
    }
    if (!takeAccuracy(item, reading))
      return Error::badInput("“" + std::string(trimmed(part)) +
                             "”: an accuracy is a number, e.g. noise 50 cm ±1.5 or wall ±1 %.");
    const size_t space = item.find(' ');
    const std::string word = item.substr(0, space);
    const std::string rest =
        space == std::string::npos ? "" : std::string(trimmed(std::string_view(item).substr(space)));
    const TypedReading* typed = typedReadingCalled(word);
    if (typed != nullptr) reading.role = typed->roleAt(rest);
    if (typed == nullptr || (typed->hasOwnPlace() && !reading.role.isKnown())) {
      return Error::badInput("“" + std::string(trimmed(part)) +
                             "” is no reading to take by hand; write noise 50 cm, surface hinge, wall, room or score.");
    }
    if (!typed->hasOwnPlace()) reading.place = rest;
    owed.push_back(reading);
  }
  return owed;
}

std::string owedListText(const std::vector<OwedReading>& owed) {
  std::string text;
  for (const OwedReading& reading : owed) {
    std::string item = typedWords(reading.role);
    if (!reading.place.empty()) item += " " + reading.place;
    if (reading.plusMinus > 0) item += fmt::format(" ±{:g}", reading.plusMinus);
    if (reading.percent > 0) item += fmt::format(" ±{:g} %", reading.percent);
    if (reading.when != When::Settled) item += std::string(" ") + nameOf(reading.when).words;
    text += (text.empty() ? "" : ", ") + item;
  }
  return text;
}

std::string owedWords(const OwedReading& owed) {
  const TypedReading* typed = typedReadingOf(owed.role);
  std::string words = typed == nullptr ? owed.role.title() : std::string(typed->word);
  if (owed.role.isSurface()) words += ", " + owed.role.device().place();
  if (!owed.place.empty()) words += ", " + owed.place;
  return words + ", " + nameOf(owed.when).words;
}

}  // namespace ash
