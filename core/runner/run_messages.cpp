// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_messages.h"

#include <cmath>

#include "book/reading_json.h"
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

double numberAt(const Json& object, const char* key) { return valueIn(object, key, kMissing); }
std::string textAt(const Json& object, const char* key) { return valueIn(object, key, ""); }
Json listAt(const Json& object, const char* key) {
  Json list = valueIn(object, key, Json::array());
  return list.is_array() ? list : Json::array();
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
                         {"settles_at_s", numberOrNull(progress.settlesAtS)}};
  return {{"type", MessageType(MessageType::State).text()},
          {"t", progress.timeS},
          {"phase", progress.phaseIndex},
          {"phase_s", progress.phaseS},
          {"longest_left_s", progress.longestRunLeftS},
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

LiveRunInfo infoFromHello(const Json& message) {
  LiveRunInfo info;
  info.id = textAt(message, "run");
  info.book = textAt(message, "book");
  info.study = textAt(message, "study");
  info.setup = textAt(message, "setup");
  info.load = textAt(message, "load");
  info.started = textAt(message, "started");
  info.watched = textAt(message, "watched");
  info.repeat = valueIn(message, "repeat", 1);
  info.speed = valueIn(message, "speed", 1.0);
  info.intervalS = valueIn(message, "interval_s", 0.5);
  info.roomC = numberAt(message, "room_c");
  info.machine = textAt(valueIn(message, "machine", Json::object()), "name");
  if (const auto procedure = parsePhases(textAt(message, "procedure"))) info.procedure = *procedure;
  for (const Json& source : listAt(message, "sources")) {
    std::vector<std::string> columns;
    for (const Json& about : listAt(source, "readings")) {
      const Reading reading = readingFromJson(about, textAt(about, "role"), textAt(about, "unit"));
      columns.push_back(reading.column());
      info.readings[reading.column()] = reading;
    }
    info.columns.push_back(std::move(columns));
  }
  return info;
}

std::optional<LiveSamples> samplesFromMessage(const Json& message) {
  const Json values = valueIn(message, "values", Json());
  const int source = valueIn(message, "source", -1);
  LiveSamples samples{static_cast<size_t>(source), numberAt(message, "t"), {}};
  if (source < 0 || !std::isfinite(samples.timeS) || !values.is_array()) return std::nullopt;
  for (const Json& value : values) samples.values.push_back(value.is_number() ? value.get<double>() : kMissing);
  return samples;
}

std::optional<LivePhase> phaseFromMessage(const Json& message) {
  const auto kind = phaseKindFromText(textAt(message, "kind"));
  if (!kind) return std::nullopt;
  return LivePhase{valueIn(message, "index", size_t{0}), *kind, valueIn(message, "start_s", 0.0),
                   textAt(message, "words"), textAt(message, "last_end")};
}

LiveState stateFromMessage(const Json& message) {
  LiveState state;
  state.timeS = valueIn(message, "t", 0.0);
  state.phase = valueIn(message, "phase", size_t{0});
  state.phaseS = valueIn(message, "phase_s", 0.0);
  state.longestLeftS = valueIn(message, "longest_left_s", 0.0);
  state.isLoadOn = valueIn(message, "load_on", false);
  const Json forecast = valueIn(message, "forecast", Json::object());
  state.forecast = {valueIn(forecast, "settled", false), numberAt(forecast, "value"),
                    numberAt(forecast, "low"),           numberAt(forecast, "high"),
                    numberAt(forecast, "remaining_k"),   numberAt(forecast, "settles_at_s")};
  for (const Json& rule : listAt(message, "rules")) {
    state.rules.push_back({textAt(rule, "rule"), textAt(rule, "role"), valueIn(rule, "threshold", 0.0),
                           numberAt(rule, "value"), numberAt(rule, "distance"), valueIn(rule, "tripped", false),
                           valueIn(rule, "held_s", 0.0), valueIn(rule, "default", false)});
  }
  return state;
}

Event eventFromMessage(const Json& message) {
  Event event;
  event.atS = numberAt(message, "at_s");
  event.kind = EventKind::fromText(textAt(message, "kind"));
  event.text = textAt(message, "text");
  event.role = textAt(message, "role");
  event.value = numberAt(message, "value");
  event.valueHigh = numberAt(message, "value_high");
  event.extra = valueIn(message, "extra", Json::object());
  if (!event.extra.is_object()) event.extra = Json::object();
  return event;
}

LiveOutcome outcomeFromMessage(const Json& message) {
  return {textAt(message, "run"), outcomeFromText(textAt(message, "outcome")).value_or(Outcome::RecorderDied),
          textAt(message, "reason")};
}

LiveAnswer answerFromMessage(const Json& message) {
  return {valueIn(message, "ok", false), textAt(message, "why"), textAt(message, "kept")};
}

}  // namespace ash
