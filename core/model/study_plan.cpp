// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/study_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "model/json_cursor.h"
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

When whenOf(const std::string& code) {
  const auto found = std::find_if(kWhen.begin(), kWhen.end(), [&](const WhenName& name) { return code == name.code; });
  return found == kWhen.end() ? When::Settled : found->when;
}

const WhenName& nameOf(When when) {
  return *std::find_if(kWhen.begin(), kWhen.end(), [&](const WhenName& name) { return name.when == when; });
}

WriteUpPlan writeUpFrom(const JsonCursor& json) {
  WriteUpPlan writeUp;
  json.take("left_out", writeUp.leftOut);
  json.take("order", writeUp.order);
  json.take("comments", writeUp.comments);
  json.take("licence", writeUp.licence);
  return writeUp;
}

}  // namespace

// A plan is taken as far as it can be: a key of the wrong kind is as good as missing.
StudyPlan planFromJson(const Json& json) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor root(json, passedOver);
  StudyPlan plan;
  for (const JsonCursor& entry : root.objects("held")) {
    if (const std::string field = entry.text("field"); !field.empty())
      plan.held.push_back({field, entry.at("target").value(), entry.number("tolerance")});
  }
  root.take("under_test", plan.underTest);
  root.take("figure", plan.figure);
  plan.asks = questionFromJson(root.at("asks"));
  if (const double margin = root.number("margin_k", kNotNegative); std::isfinite(margin)) plan.marginK = margin;
  root.take("equal", plan.equal);
  const double scatter = root.number("repeatability_k", kNotNegative);
  if (std::isfinite(scatter)) plan.repeatabilityK = scatter;
  double repeats = plan.repeats;
  root.take("repeats", repeats);
  plan.repeats = static_cast<int>(std::clamp(repeats, 1.0, 20.0));
  root.take("until_decided", plan.isUntilDecided);
  for (const JsonCursor& entry : root.objects("by_hand")) {
    const std::string role = entry.text("role");
    if (role.empty()) continue;
    OwedReading owed{role, entry.text("place"), whenOf(entry.text("when"))};
    entry.take("plus_minus", owed.plusMinus, kNotNegative);
    entry.take("percent", owed.percent, kNotNegative);
    plan.byHand.push_back(std::move(owed));
  }
  root.take("reference", plan.reference);
  root.take("phases", plan.phases);
  root.take("stop_rules", plan.stopRules);
  root.take("bench", plan.bench);
  for (const JsonCursor& entry : root.objects("also_shown")) {
    AlsoShown also{entry.text("book"), entry.text("study"), entry.text("setup"), entry.text("run")};
    if (!also.study.empty() && !also.setup.empty()) plan.alsoShown.push_back(std::move(also));
  }
  for (const JsonCursor& entry : root.objects("accepted")) {
    AcceptedCheck one{entry.text("what"), {}, entry.text("reason"), entry.text("when")};
    entry.take("between", one.between);
    std::sort(one.between.begin(), one.between.end());
    if (!one.what.empty() && !one.reason.empty()) plan.accepted.push_back(std::move(one));
  }
  plan.stated = statedFrom(root.objects("stated"));
  root.take("speed", plan.speed);
  plan.speed = std::clamp(plan.speed, 1.0, 1e5);
  plan.writeUp = writeUpFrom(root.at("write_up"));
  const Json others = root.unasked();
  for (const auto& [key, value] : others.items()) plan.rest[key] = value;
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
      {"until_decided", plan.isUntilDecided},
      {"by_hand", byHand},
      {"reference", plan.reference},
      {"phases", plan.phases},
      {"stop_rules", plan.stopRules},
      {"bench", plan.bench},
      {"speed", plan.speed},
      {"write_up",
       {{"left_out", plan.writeUp.leftOut}, {"order", plan.writeUp.order}, {"comments", Json(plan.writeUp.comments)}}}};
  if (!plan.writeUp.licence.empty()) json["write_up"]["licence"] = plan.writeUp.licence;
  for (const AlsoShown& also : plan.alsoShown)
    json["also_shown"].push_back(
        {{"book", also.book}, {"study", also.study}, {"setup", also.setup}, {"run", also.run}});
  for (const AcceptedCheck& one : plan.accepted)
    json["accepted"].push_back(
        {{"what", one.what}, {"between", one.between}, {"reason", one.reason}, {"when", one.when}});
  if (plan.asks.kind != QuestionKind::Open) json["asks"] = questionToJson(plan.asks);
  if (!plan.stated.empty()) json["stated"] = statedToJson(plan.stated);
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
