// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_messages.h"

#include "book/reading_json.h"
#include "model/json_cursor.h"
#include "runner/message_type.h"

namespace ash {
namespace {

Json sourcesToJson(const std::vector<SourceInfo>& sources) {
  Json list = Json::array();
  for (const SourceInfo& source : sources) {
    Json readings = Json::array();
    for (const Reading& reading : source.readings) {
      Json about = readingToJson(reading);
      about["role"] = reading.role.empty() ? Json(nullptr) : Json(reading.role.text());
      about["unit"] = reading.unit;
      readings.push_back(std::move(about));
    }
    list.push_back({{"id", source.id}, {"readings", readings}});
  }
  return list;
}

}  // namespace

Json helloMessage(const RunInfo& info, const RunPlan& plan, const RunBench& bench) {
  return {{"type", MessageType(MessageType::Run).text()},
          {"contract", 1},
          {"run", info.id},
          {"book", plan.bookPath},
          {"study", info.study},
          {"setup", info.setup},
          {"load", info.load},
          {"repeat", info.repeat},
          {"started", info.started},
          {"procedure", phasesText(info.procedure)},
          {"interval_s", info.intervalS},
          {"speed", bench.speed()},
          {"watched", info.watched.empty() ? Json(nullptr) : Json(info.watched)},
          {"machine", info.machine},
          {"room_c", valueIn(info.conditions, "room_c", Json())},
          {"sources", sourcesToJson(bench.sources())}};
}

Json samplesMessage(int source, double timeS, const std::vector<double>& values) {
  Json list = Json::array();
  for (const double value : values) list.push_back(numberOrNull(value));
  return {{"type", MessageType(MessageType::Samples).text()}, {"source", source}, {"t", timeS}, {"values", list}};
}

Json phaseMessage(const PhaseMachine& phases, double timeS) {
  return {{"type", MessageType(MessageType::Phase).text()},
          {"index", phases.index()},
          {"kind", phaseKindText(phases.phase().kind)},
          {"words", phaseWords(phases.phase())},
          {"start_s", timeS},
          {"last_end", phases.lastEnd()}};
}

namespace {

Json drainedInToJson(const Estimate& leftS) {
  if (!std::isfinite(leftS.value)) return nullptr;
  return {{"s", leftS.value}, {"low_s", leftS.low}, {"high_s", leftS.high}};
}

}  // namespace

Json stateMessage(const RunProgress& progress, const std::vector<RuleState>& rules, bool isLoadOn) {
  Json ruleList = Json::array();
  for (const RuleState& state : rules) {
    ruleList.push_back({{"rule", stopRuleText(state.rule)},
                        {"role", state.rule.role.text()},
                        {"threshold", state.rule.threshold},
                        {"default", state.rule.isDefault},
                        {"value", numberOrNull(state.value)},
                        {"distance", numberOrNull(state.distance())},
                        {"held_s", state.heldS},
                        {"tripped", state.hasTripped}});
  }
  const SettlingVerdict& settling = progress.settling;
  const Json forecast = {{"settled", settling.isSettled},
                         {"value", numberOrNull(settling.forecast)},
                         {"low", numberOrNull(settling.forecastLow)},
                         {"high", numberOrNull(settling.forecastHigh)},
                         {"remaining_k", numberOrNull(settling.remainingK)},
                         {"governed", settling.isGoverned},
                         {"will_hold", heldWords(settling.held)},
                         {"remaining_percent",
                          settling.held.empty() ? Json(nullptr) : numberOrNull(settling.held.front().remainingPercent)},
                         {"settles_at_s", numberOrNull(progress.settlesAtS)}};
  return {{"type", MessageType(MessageType::State).text()},
          {"t", progress.timeS},
          {"phase", progress.phaseIndex},
          {"phase_s", progress.phaseS},
          {"longest_left_s", numberOrNull(progress.longestRunLeftS)},
          {"drained_in", drainedInToJson(progress.drainedInS)},
          {"load_on", isLoadOn},
          {"forecast", forecast},
          {"rules", ruleList}};
}

Json eventMessage(const Event& event) {
  return {{"type", MessageType(MessageType::Event).text()},
          {"at_s", numberOrNull(event.atS)},
          {"kind", event.kind.text()},
          {"text", event.text},
          {"role", event.role.empty() ? Json(nullptr) : Json(event.role.text())},
          {"value", numberOrNull(event.value)},
          {"value_high", numberOrNull(event.valueHigh)},
          {"extra", event.extra}};
}

Json outcomeMessage(const RunResult& result) {
  return {{"type", MessageType(MessageType::Outcome).text()},
          {"run", result.runId},
          {"outcome", outcomeText(result.outcome)},
          {"reason", result.reason.empty() ? Json(nullptr) : Json(result.reason)}};
}

// What a message holds that it should not is passed over: a newer recorder may tell more, or otherwise.
LiveRunInfo infoFromHello(const Json& message) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor hello(message, passedOver);
  LiveRunInfo info;
  for (const auto& [key, text] :
       {std::pair{"run", &info.id}, std::pair{"book", &info.book}, std::pair{"study", &info.study},
        std::pair{"setup", &info.setup}, std::pair{"load", &info.load}, std::pair{"started", &info.started},
        std::pair{"watched", &info.watched}})
    hello.take(key, *text);
  hello.take("repeat", info.repeat);
  hello.take("speed", info.speed);
  hello.take("interval_s", info.intervalS);
  hello.take("room_c", info.roomC);
  hello.at("machine").take("name", info.machine);
  if (const auto procedure = parsePhases(hello.text("procedure"))) info.procedure = *procedure;
  for (const JsonCursor& source : hello.objects("sources")) {
    std::vector<std::string> columns;
    for (const JsonCursor& about : source.objects("readings")) {
      const Reading reading = readingFromJson(about.value(), about.text("role"), about.text("unit"));
      columns.push_back(reading.column());
      info.readings[reading.column()] = reading;
    }
    info.columns.push_back(std::move(columns));
  }
  return info;
}

std::optional<LiveSamples> samplesFromMessage(const Json& message) {
  JsonCursor::Mistakes mistakes;
  const JsonCursor told(message, mistakes);
  LiveSamples samples;
  told.need("source", samples.source);
  told.need("t", samples.timeS);
  const Json& values = told.at("values").value();
  if (!mistakes.empty() || !values.is_array()) return std::nullopt;
  for (const Json& value : values) samples.values.push_back(value.is_number() ? value.get<double>() : kMissing);
  return samples;
}

std::optional<LivePhase> phaseFromMessage(const Json& message) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor told(message, passedOver);
  const auto kind = phaseKindFromText(told.text("kind"));
  if (!kind) return std::nullopt;
  LivePhase phase{0, *kind, 0, told.text("words"), told.text("last_end")};
  told.take("index", phase.index);
  told.take("start_s", phase.startS);
  return phase;
}

LiveState stateFromMessage(const Json& message) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor told(message, passedOver);
  LiveState state;
  told.take("t", state.timeS);
  told.take("phase", state.phase);
  told.take("phase_s", state.phaseS);
  state.longestLeftS = told.number("longest_left_s");
  if (std::isnan(state.longestLeftS)) state.longestLeftS = kNoMost;
  const JsonCursor drained = told.at("drained_in");
  state.drainedInS = {drained.number("s"), drained.number("low_s"), drained.number("high_s")};
  told.take("load_on", state.isLoadOn);
  const JsonCursor forecast = told.at("forecast");
  forecast.take("settled", state.forecast.isSettled);
  state.forecast.value = forecast.number("value");
  state.forecast.low = forecast.number("low");
  state.forecast.high = forecast.number("high");
  state.forecast.remainingK = forecast.number("remaining_k");
  state.forecast.settlesAtS = forecast.number("settles_at_s");
  forecast.take("governed", state.forecast.isGoverned);
  state.forecast.willHold = forecast.text("will_hold");
  state.forecast.remainingPercent = forecast.number("remaining_percent");
  for (const JsonCursor& about : told.objects("rules")) {
    LiveRule rule;
    rule.text = about.text("rule");
    rule.role = about.text("role");
    about.take("threshold", rule.threshold);
    rule.value = about.number("value");
    rule.distance = about.number("distance");
    about.take("tripped", rule.hasTripped);
    about.take("held_s", rule.heldS);
    about.take("default", rule.isDefault);
    state.rules.push_back(std::move(rule));
  }
  return state;
}

Event eventFromMessage(const Json& message) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor told(message, passedOver);
  Event event;
  event.atS = told.number("at_s");
  event.kind = EventKind::fromText(told.text("kind"));
  event.text = told.text("text");
  event.role = told.text("role");
  event.value = told.number("value");
  event.valueHigh = told.number("value_high");
  event.extra = Json::object();
  told.takeObject("extra", event.extra);
  return event;
}

LiveOutcome outcomeFromMessage(const Json& message) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor told(message, passedOver);
  return {told.text("run"), outcomeFromText(told.text("outcome")).value_or(Outcome::RecorderDied), told.text("reason")};
}

LiveAnswer answerFromMessage(const Json& message) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor told(message, passedOver);
  LiveAnswer answer;
  told.take("ok", answer.isDone);
  answer.why = told.text("why");
  answer.kept = told.text("kept");
  return answer;
}

}  // namespace ash
