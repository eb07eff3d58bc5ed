// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/spoken_reading.h"

#include <fmt/format.h>

#include "instruments/openmetrics_text.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr std::string_view kPlusMinus = "±";

// Takes the last word off where it is a unit; a query of one word stays.
std::string takeUnitWord(std::string& asked) {
  const size_t blank = asked.find_last_of(" \t");
  if (blank == std::string::npos) return {};
  std::string unit = asked.substr(blank + 1);
  if (!matchUnit(unit)) return {};
  asked = std::string(trimmed(std::string_view(asked).substr(0, blank)));
  return unit;
}

Status putMetric(const std::string& asked, Json& reading) {
  const auto page = parseMetrics(asked + " 0\n", false);
  if (!page || page->samples.size() != 1)
    return Error::badInput(
        fmt::format("\"{}\" is no metric, such as name{{label=\"value\"}}.", withoutControls(asked)));
  reading["metric"] = page->samples.front().name;
  if (!page->samples.front().labels.empty()) reading["labels"] = page->samples.front().labels;
  return {};
}

// A label's value as OpenMetrics 1.0 writes it, 5.1.
std::string escapedLabel(const std::string& value) {
  std::string escaped;
  for (const char c : value) {
    if (c == '"' || c == '\\') escaped += '\\';
    escaped += c == '\n' ? std::string("\\n") : std::string(1, c);
  }
  return escaped;
}

// What is asked for, without its unit; empty of a microphone.
std::string queryOf(const InstrumentReading& reading) {
  std::string query = reading.query + reading.pattern + reading.metric + reading.topic;
  if (!reading.pointer.empty()) query += "#" + reading.pointer;
  std::string labels;
  for (const auto& [name, value] : reading.labels)
    labels += fmt::format("{}{}=\"{}\"", labels.empty() ? "" : ",", name, escapedLabel(value));
  return labels.empty() ? query : query + "{" + labels + "}";
}

// A microphone is asked for nothing: "noise ±1.5 dBA".
Json spokenSound(const std::string& text) {
  const size_t at = text.find(kPlusMinus);
  Json reading = {{"role", trimmed(std::string_view(text).substr(0, at))}};
  if (at != std::string::npos) reading["accuracy"] = trimmed(std::string_view(text).substr(at + kPlusMinus.size()));
  return reading;
}

}  // namespace

Result<Json> parseSpokenReading(const std::string& text, InstrumentKind kind) {
  if (kind == InstrumentKind::Sound) return spokenSound(text);
  const size_t equals = text.find('=');
  std::string asked(equals == std::string::npos ? std::string_view()
                                                : trimmed(std::string_view(text).substr(equals + 1)));
  const std::string what(trimmed(std::string_view(text).substr(0, equals)));
  std::string accuracy;
  if (const size_t at = asked.find(kPlusMinus); at != std::string::npos) {
    accuracy = std::string(trimmed(std::string_view(asked).substr(at + kPlusMinus.size())));
    asked = std::string(trimmed(std::string_view(asked).substr(0, at)));
  }
  const std::string unit = takeUnitWord(asked);
  if (what.empty() || asked.empty())
    return Error::badInput(
        fmt::format("\"{}\" is no reading: write ROLE=QUERY [UNIT] [±ACCURACY], e.g. wall.power=MEAS:POW? W.",
                    withoutControls(text)));
  Json reading = {{Role(what).isKnown() ? "role" : "name", what}};
  if (kind == InstrumentKind::Scpi) reading["query"] = asked;
  if (kind == InstrumentKind::Command) reading["pattern"] = asked;
  if (kind == InstrumentKind::Mqtt) {
    const size_t mark = asked.find('#');
    reading["topic"] = asked.substr(0, mark);
    if (mark != std::string::npos) reading["pointer"] = asked.substr(mark + 1);
  }
  if (kind == InstrumentKind::OpenMetrics) {
    if (Status put = putMetric(asked, reading); !put) return put.error();
  }
  if (!unit.empty()) reading["unit"] = unit;
  if (!accuracy.empty()) reading["accuracy"] = accuracy;
  return reading;
}

std::string spokenQuery(const InstrumentReading& reading) {
  const std::string query = queryOf(reading);
  std::string rest = query;
  // A query whose last word looks like a unit needs another one behind it.
  const bool endsLikeOne = !takeUnitWord(rest).empty();
  const std::string unit = reading.unitText.empty() && endsLikeOne ? reading.storedUnit() : reading.unitText;
  return unit.empty() ? query : query + " " + unit;
}

void sayAnew(Json& reading, const Json& spoken) {
  for (const char* key :
       {"role", "name", "query", "metric", "labels", "topic", "pointer", "pattern", "unit", "accuracy"})
    reading.erase(key);
  reading.update(spoken);
}

std::string askedText(const InstrumentReading& reading) {
  std::string text = queryOf(reading);
  if (const std::string unit = reading.storedUnit(); !unit.empty()) text += " in " + unit;
  if (!reading.accuracyAsWritten.empty()) text += ", ±" + reading.accuracyAsWritten;
  return withoutControls(text);
}

}  // namespace ash
