// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/ladder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "ladder/answer.h"
#include "ladder/search.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kRounding = 1e-9, kDecimals = 1e9;
constexpr char kHalving[] = "halving", kSteps[] = "steps";

std::string phaseTextOf(const Phase& phase) { return phasesText({{phase}, {}}); }

Result<Phase> phaseOf(const std::string& text) {
  const auto procedure = parsePhases(text);
  if (!procedure) return procedure.error();
  if (procedure->phases.size() != 1) return Error::badInput(fmt::format("\"{}\" is not one phase.", text));
  return procedure->phases.front();
}

Json rulesToJson(const std::vector<LadderRule>& rules) {
  Json list = Json::array();
  for (const LadderRule& rule : rules) list.push_back(ladderRuleText(rule));
  return list;
}

Json stepToJson(const Ladder& ladder, const LadderStep& step) {
  return {{"value", ladder.ask.valueAt(step.index)},
          {"read_back", numberOrNull(step.readBack)},
          {"run", step.runId.empty() ? Json(nullptr) : Json(step.runId)},
          {"setup", step.setup},
          {"held", step.held ? Json(*step.held) : Json(nullptr)},
          {"why", step.why.empty() ? Json(nullptr) : Json(step.why)},
          {"left_k", numberOrNull(step.leftK)},
          {"left_of", step.leftOf.empty() ? Json(nullptr) : Json(step.leftOf)}};
}

}  // namespace

const char* ladderSearchText(LadderSearch search) { return search == LadderSearch::Halving ? kHalving : kSteps; }

size_t LadderAsk::stepCount() const {
  if (!(step > 0) || !std::isfinite(from) || !std::isfinite(to)) return 0;
  const double steps = std::abs(to - from) / step + kRounding;
  return steps >= static_cast<double>(kMostLadderSteps) ? kMostLadderSteps + 1 : static_cast<size_t>(steps) + 1;
}

double LadderAsk::valueAt(size_t index) const {
  const double value = from + (to < from ? -1 : 1) * static_cast<double>(index) * step;
  // 0.1 + 2 · 0.1 is meant to be 0.3.
  return std::round(value * kDecimals) / kDecimals;
}

Status checkAsk(const LadderAsk& ask) {
  if (trimmed(ask.knob).empty()) return Error::badInput("A ladder needs a knob; `ashg knobs` lists them.");
  if (!(ask.step > 0) || !std::isfinite(ask.step))
    return Error::badInput("The step of a ladder is a number above 0, whichever way it goes.");
  if (!std::isfinite(ask.from) || !std::isfinite(ask.to))
    return Error::badInput("Say where the ladder goes: --from and --to are numbers.");
  if (ask.stepCount() < 2)
    return Error::badInput(fmt::format("From {} to {} there is no step of {}.", ask.from, ask.to, ask.step));
  if (ask.stepCount() > kMostLadderSteps)
    return Error::badInput(fmt::format("More than {} steps are too many; take larger ones.", kMostLadderSteps));
  if (ask.until.empty())
    return Error::badInput("A ladder needs a rule that ends a step, such as --until \"throttled > 2% of 60s\".");
  if (ask.back < 0 || static_cast<size_t>(ask.back) >= ask.stepCount())
    return Error::badInput("--back is a number of steps, fewer than the ladder has.");
  if (ask.isConfirmed() && !(ask.confirmS > 0)) return Error::badInput("--confirm needs a time, such as 30min.");
  if (isUnderLoad(ask.rest.kind) || ask.rest.kind == PhaseKind::Pause)
    return Error::badInput("A step begins with a rest without load: a time, or \"below 45 ..20min\".");
  return {};
}

Json askToJson(const LadderAsk& ask) {
  return {{"study", ask.study},
          {"setup", ask.setup},
          {"load", ask.load},
          {"knob", ask.knob},
          {"unit", ask.unit},
          {"from", ask.from},
          {"to", ask.to},
          {"step", ask.step},
          {"search", ladderSearchText(ask.search)},
          {"until", rulesToJson(ask.until)},
          {"rest", phaseTextOf(ask.rest)},
          {"hold", phaseTextOf(ask.hold)},
          {"back", ask.back},
          {"confirm_s", numberOrNull(ask.confirmS)},
          {"confirm_load", ask.confirmLoad},
          {"bench", ask.bench}};
}

Result<LadderAsk> askFromJson(const Json& json) {
  // It is shown in terminals, wherever it came from.
  const auto wordsAt = [&](const char* key) { return withoutControls(asUtf8(valueIn(json, key, ""))); };
  LadderAsk ask;
  ask.study = wordsAt("study");
  ask.setup = wordsAt("setup");
  ask.load = wordsAt("load");
  ask.knob = wordsAt("knob");
  ask.unit = wordsAt("unit");
  ask.from = valueIn(json, "from", kMissing);
  ask.to = valueIn(json, "to", kMissing);
  ask.step = valueIn(json, "step", kMissing);
  ask.search = valueIn(json, "search", "") == kHalving ? LadderSearch::Halving : LadderSearch::Steps;
  for (const Json& text : valueIn(json, "until", Json::array())) {
    auto rule = parseLadderRule(text.is_string() ? text.get<std::string>() : std::string());
    if (!rule) return rule.error();
    ask.until.push_back(*rule);
  }
  auto rest = phaseOf(valueIn(json, "rest", "")), hold = phaseOf(valueIn(json, "hold", ""));
  if (!rest) return rest.error();
  if (!hold) return hold.error();
  ask.rest = *rest;
  ask.hold = *hold;
  ask.back = valueIn(json, "back", 1);
  ask.confirmS = valueIn(json, "confirm_s", kMissing);
  ask.confirmLoad = wordsAt("confirm_load");
  ask.bench = valueIn(json, "bench", Json::object());
  if (Status checked = checkAsk(ask); !checked) return checked.error();
  return ask;
}

std::vector<std::string> differencesOf(const LadderAsk& a, const LadderAsk& b) {
  std::vector<std::string> different;
  const Json first = askToJson(a), second = askToJson(b);
  for (const auto& [key, value] : first.items()) {
    if (second.at(key) != value) different.push_back(key);
  }
  return different;
}

KeptLadder toKept(const Ladder& ladder) {
  Json steps = Json::array();
  for (const LadderStep& step : ladder.steps) {
    steps.push_back({{"index", step.index},
                     {"confirming", step.isConfirming},
                     {"setup", step.setup},
                     {"run", step.runId},
                     {"read_back", numberOrNull(step.readBack)},
                     {"held", step.held ? Json(*step.held) : Json(nullptr)},
                     {"why", step.why},
                     {"left_k", numberOrNull(step.leftK)},
                     {"left_of", step.leftOf}});
  }
  return {ladder.id,
          ladder.ask.study,
          ladder.created,
          askToJson(ladder.ask),
          {{"over", ladder.isOver}, {"steps", std::move(steps)}}};
}

Result<Ladder> fromKept(const KeptLadder& kept) {
  auto ask = askFromJson(kept.asked);
  if (!ask) return Error::badInput(fmt::format("The ladder {} cannot be read: {}", kept.id, ask.error().message));
  Ladder ladder{kept.id, kept.created, std::move(*ask), {}, valueIn(kept.state, "over", false)};
  // The study's name may have changed since.
  ladder.ask.study = kept.study;
  for (const Json& one : valueIn(kept.state, "steps", Json::array())) {
    LadderStep step;
    step.index = valueIn(one, "index", size_t{kMostLadderSteps});
    step.isConfirming = valueIn(one, "confirming", false);
    step.setup = withoutControls(valueIn(one, "setup", ""));
    step.runId = valueIn(one, "run", "");
    if (const double value = valueIn(one, "read_back", kMissing); std::isfinite(value)) step.readBack = value;
    if (const Json held = valueIn(one, "held", Json()); held.is_boolean()) step.held = held.get<bool>();
    step.why = withoutControls(valueIn(one, "why", ""));
    if (const double left = valueIn(one, "left_k", kMissing); std::isfinite(left)) step.leftK = left;
    step.leftOf = withoutControls(valueIn(one, "left_of", ""));
    if (step.index >= ladder.ask.stepCount() || ladder.steps.size() >= 2 * kMostLadderSteps)
      return Error::badInput(
          fmt::format("The ladder {} cannot be read: it has a step that it does not have.", kept.id));
    ladder.steps.push_back(std::move(step));
  }
  return ladder;
}

Json ladderToJson(const Ladder& ladder) {
  const LadderBounds bounds = boundsOf(ladder);
  const auto valueOf = [&](const std::optional<size_t>& index) {
    return index ? Json(ladder.ask.valueAt(*index)) : Json(nullptr);
  };
  Json steps = Json::array(), confirming = Json::array();
  for (const LadderStep& step : ladder.steps)
    (step.isConfirming ? confirming : steps).push_back(stepToJson(ladder, step));
  return {{"contract", 1},
          {"ladder", ladder.id},
          {"knob", ladder.ask.knob},
          {"unit", ladder.ask.unit},
          {"steps", std::move(steps)},
          {"confirming", std::move(confirming)},
          {"holds", valueOf(bounds.holds)},
          {"fails", valueOf(bounds.fails)},
          {"chosen", valueOf(bounds.chosen)},
          {"confirmed", bounds.confirmed ? Json(*bounds.confirmed) : Json(nullptr)},
          {"over", ladder.isOver},
          {"why", answerOf(ladder)}};
}

}  // namespace ash
