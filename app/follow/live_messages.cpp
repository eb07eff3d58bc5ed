// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/follow/live_messages.h"

#include "book/reading_json.h"

namespace ash {
namespace {

double numberAt(const Json& object, const char* key) { return valueIn(object, key, kMissing); }

std::string textAt(const Json& object, const char* key) { return valueIn(object, key, ""); }

}  // namespace

LiveRunInfo liveInfo(const Json& hello) {
  LiveRunInfo info;
  info.id = textAt(hello, "run");
  info.book = textAt(hello, "book");
  info.study = textAt(hello, "study");
  info.setup = textAt(hello, "setup");
  info.load = textAt(hello, "load");
  info.started = textAt(hello, "started");
  info.watched = textAt(hello, "watched");
  info.repeat = valueIn(hello, "repeat", 1);
  info.speed = valueIn(hello, "speed", 1.0);
  info.intervalS = valueIn(hello, "interval_s", 0.5);
  if (hello.contains("machine") && hello["machine"].is_object()) info.machine = textAt(hello["machine"], "name");
  if (const auto procedure = parsePhases(textAt(hello, "procedure"))) info.procedure = *procedure;
  const Json sources = valueIn(hello, "sources", Json::array());
  for (const Json& source : sources) {
    for (const Json& about : valueIn(source, "readings", Json::array())) {
      const Reading reading = readingFromJson(about, textAt(about, "role"), textAt(about, "unit"));
      info.readings[reading.column()] = reading;
    }
  }
  return info;
}

LiveRunInfo liveInfo(const RunInfo& from, const RunLog& run) {
  LiveRunInfo info;
  info.id = from.id;
  info.study = from.study;
  info.setup = from.setup;
  info.load = from.load;
  info.started = from.started;
  info.watched = from.watched;
  info.machine = valueIn(from.machine, "name", std::string());
  info.repeat = from.repeat;
  info.intervalS = from.intervalS;
  info.procedure = from.procedure;
  for (const Channel& channel : run.log.channels) {
    Reading reading;
    reading.id = channel.name;
    reading.role = channel.role;
    reading.quantity = channel.quantity;
    reading.unit = channel.unit;
    const auto limits = run.facts.limits.find(channel.role);
    if (limits != run.facts.limits.end()) reading.limits = limits->second;
    info.readings[channel.name] = reading;
  }
  return info;
}

LiveState liveState(const Json& message) {
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
  for (const Json& rule : valueIn(message, "rules", Json::array())) {
    state.rules.push_back({textAt(rule, "rule"), textAt(rule, "role"), valueIn(rule, "threshold", 0.0),
                           numberAt(rule, "value"), numberAt(rule, "distance"), valueIn(rule, "tripped", false)});
  }
  return state;
}

Event liveEvent(const Json& message) {
  Event event;
  event.atS = numberAt(message, "at_s");
  event.kind = textAt(message, "kind");
  event.text = textAt(message, "text");
  event.role = textAt(message, "role");
  event.value = numberAt(message, "value");
  return event;
}

std::vector<std::vector<std::string>> columnsOfSources(const Json& hello) {
  std::vector<std::vector<std::string>> columns;
  for (const Json& source : valueIn(hello, "sources", Json::array())) {
    std::vector<std::string> names;
    for (const Json& about : valueIn(source, "readings", Json::array())) {
      const std::string role = textAt(about, "role");
      names.push_back(role.empty() ? textAt(about, "id") : role);
    }
    columns.push_back(std::move(names));
  }
  return columns;
}

int setupIndex(const std::vector<Study>& studies, const std::string& study, const std::string& setup) {
  for (const Study& candidate : studies) {
    if (candidate.name != study) continue;
    for (size_t i = 0; i < candidate.setups.size(); ++i) {
      if (candidate.setups[i].name == setup) return static_cast<int>(i);
    }
  }
  return 0;
}

void appendRow(Log& log, const std::vector<std::string>& columns, double timeS, const Json& values, double intervalS) {
  if (!values.is_array()) return;
  const bool isNewRow = log.timeS.empty() || timeS - log.timeS.back() > intervalS / 4;
  if (isNewRow) {
    log.timeS.push_back(timeS);
    for (Channel& channel : log.channels) channel.values.push_back(kMissing);
  }
  for (size_t i = 0; i < columns.size() && i < values.size(); ++i) {
    if (!values[i].is_number()) continue;
    for (Channel& channel : log.channels) {
      if (channel.name == columns[i]) channel.values.back() = values[i].get<double>();
    }
  }
}

}  // namespace ash
