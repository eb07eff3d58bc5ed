// SPDX-License-Identifier: GPL-3.0-or-later
// RUN.meta.json: every key is optional, a known key of the wrong type is refused, an unknown key is kept.
#include <fmt/format.h>

#include <algorithm>

#include "exchange/csv_read.h"
#include "model/json_cursor.h"
#include "model/outcome.h"

namespace ash {
namespace {

void readTexts(const JsonCursor& root, RunFacts& facts) {
  root.take("setup", facts.setup);
  root.take("load", facts.load);
  root.take("started", facts.started);
  root.take("reason", facts.reason);
  root.take("watched", facts.watched);
  const std::string outcome = root.text("outcome");
  facts.outcome = outcomeFromText(outcome);
  if (!outcome.empty() && !facts.outcome)
    root.refuse("outcome", fmt::format("is \"{}\", which is none of the known outcomes", outcome));
  const std::string better = root.text("score_better");
  if (!better.empty() && better != "higher" && better != "lower")
    root.refuse("score_better", "must be \"higher\" or \"lower\"");
  facts.lowerScoreIsBetter = better == "lower";
}

void readUnderTest(const JsonCursor& root, RunFacts& facts) {
  const JsonCursor list = root.at("under_test");
  if (!list.isThere()) return;
  const Json& fields = list.value();
  const bool isList = fields.is_array() &&
                      std::all_of(fields.begin(), fields.end(), [](const Json& field) { return field.is_string(); });
  if (!isList) return list.refuse("must be a list of field names");
  root.take("under_test", facts.underTest);
}

void readLimits(const JsonCursor& root, const char* key, std::map<std::string, std::map<std::string, double>>& target) {
  for (const auto& [role, limits] : root.fields(key)) {
    for (const auto& [name, limit] : limits.fields()) {
      if (limit.value().is_number())
        target[role][name] = limit.value().get<double>();
      else if (limit.isThere())
        limit.refuse("must be a number");
    }
  }
}

// "noise": 1.5, or {"plus_minus": 0.5, "percent": 1, "instrument": "meter A"}.
void readAccuracies(const JsonCursor& root, RunFacts& facts) {
  for (const auto& [role, stated] : root.fields("accuracy")) {
    Accuracy accuracy;
    if (stated.value().is_number()) {
      accuracy.plusMinus = stated.value().get<double>();
    } else if (stated.isObject()) {
      stated.take("plus_minus", accuracy.plusMinus);
      stated.take("percent", accuracy.percent);
      stated.take("instrument", accuracy.instrument);
    } else {
      return stated.refuse("must be a number or an object");
    }
    if (accuracy.plusMinus < 0 || accuracy.percent < 0) return stated.refuse("must not be below zero");
    facts.accuracies[role] = accuracy;
  }
}

void readPhases(const JsonCursor& root, RunFacts& facts) {
  for (const JsonCursor& part : root.objects("phases")) {
    const auto kind = phaseKindFromText(part.text("kind"));
    if (!kind) return part.refuse("kind", "must be idle, soak, measure or cool");
    double start = kMissing, end = kMissing;
    part.need("start_s", start);
    part.need("end_s", end);
    if (end < start) return part.refuse("ends before it starts");
    facts.phases.push_back({*kind, start, end, true});
  }
}

void readWork(const JsonCursor& root, RunFacts& facts) {
  const JsonCursor work = root.object("work");
  if (!work.isObject()) return;
  facts.work = RunFacts::Work{work.number("units"), work.text("unit"), work.number("done_s")};
}

void readPasses(const JsonCursor& root, RunFacts& facts) {
  for (const JsonCursor& part : root.objects("passes")) {
    Pass pass;
    part.need("start_s", pass.startS);
    part.need("end_s", pass.endS);
    pass.score = part.number("score");
    part.take("scores", pass.scores);
    facts.passes.push_back(pass);
  }
}

void readEvents(const JsonCursor& root, RunFacts& facts) {
  for (const JsonCursor& part : root.objects("events")) {
    Event event;
    event.atS = kMissing;
    part.need("at_s", event.atS);
    event.kind = EventKind::fromText(part.text("kind"));
    event.text = part.text("text");
    event.role = part.text("role");
    event.value = part.number("value");
    event.valueHigh = part.number("value_high");
    if (const std::string place = part.text("place"); !place.empty()) event.extra["place"] = place;
    facts.events.push_back(event);
  }
}

RunFacts readFacts(const JsonCursor& root) {
  RunFacts facts;
  readTexts(root, facts);
  root.takeObject("machine", facts.machine);
  root.takeObject("load_spec", facts.loadSpec);
  if (!facts.loadSpec.empty()) facts.loadKind = LoadKind::fromText(valueIn(facts.loadSpec, "kind", std::string()));
  root.takeObject("conditions", facts.conditions);
  readUnderTest(root, facts);
  readLimits(root, "limits", facts.limits);
  readLimits(root, "rated", facts.rated);
  readAccuracies(root, facts);
  readPhases(root, facts);
  readWork(root, facts);
  readPasses(root, facts);
  readEvents(root, facts);
  const Json others = root.unasked();
  for (const auto& [key, value] : others.items()) facts.extra[key] = value;
  return facts;
}

// nlohmann's message holds line and column; only those are wanted here.
std::string placeOfMistake(const std::string& message) {
  const size_t at = message.find("line ");
  const size_t end = message.find(':', at);
  return at == std::string::npos || end == std::string::npos ? std::string() : message.substr(at, end - at);
}

}  // namespace

Result<RunFacts> parseSidecar(const std::string& text, const std::string& where) {
  Json root;
  try {
    root = Json::parse(text);
  } catch (const Json::exception& error) {
    return Error::badInput(
        fmt::format("{}, {}: this is no JSON; mend it or take the file away.", where, placeOfMistake(error.what())));
  }
  root = parseQuietly(text);  // once more, without what is nested too deeply
  if (!root.is_object()) return Error::badInput(fmt::format("{}: the sidecar must be one JSON object.", where));
  JsonCursor::Mistakes mistakes;
  RunFacts facts = readFacts(JsonCursor(root, mistakes));
  if (mistakes.empty()) return facts;
  return Error::badInput(fmt::format("{}: \"{}\" {}.", where, mistakes.front().path, mistakes.front().why));
}

}  // namespace ash
