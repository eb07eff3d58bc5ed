// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_messages.h"

#include "book/reading_json.h"

namespace ash {
namespace {

Json sourcesToJson(const std::vector<SourceInfo>& sources) {
  Json list = Json::array();
  for (const SourceInfo& source : sources) {
    Json readings = Json::array();
    for (const Reading& reading : source.readings) {
      Json about = readingToJson(reading);
      about["role"] = reading.role.empty() ? Json(nullptr) : Json(reading.role);
      about["unit"] = reading.unit;
      readings.push_back(std::move(about));
    }
    list.push_back({{"id", source.id}, {"readings", readings}});
  }
  return list;
}

}  // namespace

Json helloMessage(const RunInfo& info, const RunPlan& plan, const RunBench& bench) {
  return {{"type", "run"},
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
          {"sources", sourcesToJson(bench.sources())}};
}

Json samplesMessage(int source, double timeS, const std::vector<double>& values) {
  Json list = Json::array();
  for (const double value : values) list.push_back(numberOrNull(value));
  return {{"type", "samples"}, {"source", source}, {"t", timeS}, {"values", list}};
}

Json phaseMessage(const PhaseMachine& phases, double timeS) {
  return {{"type", "phase"},
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
                        {"role", state.rule.role},
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
  return {{"type", "state"},
          {"t", progress.timeS},
          {"phase", progress.phaseIndex},
          {"phase_s", progress.phaseS},
          {"longest_left_s", progress.longestRunLeftS},
          {"load_on", isLoadOn},
          {"forecast", forecast},
          {"rules", ruleList}};
}

Json eventMessage(const Event& event) {
  return {{"type", "event"},
          {"at_s", numberOrNull(event.atS)},
          {"kind", event.kind},
          {"text", event.text},
          {"role", event.role.empty() ? Json(nullptr) : Json(event.role)},
          {"value", numberOrNull(event.value)}};
}

Json outcomeMessage(const RunResult& result) {
  return {{"type", "outcome"},
          {"run", result.runId},
          {"outcome", outcomeText(result.outcome)},
          {"reason", result.reason.empty() ? Json(nullptr) : Json(result.reason)}};
}

}  // namespace ash
