// SPDX-License-Identifier: GPL-3.0-or-later
// RUN.meta.json: every key is optional, a known key of the wrong type is refused, an unknown key is kept.
#include <fmt/format.h>

#include <cmath>
#include <set>

#include "exchange/csv_read.h"
#include "model/outcome.h"

namespace ash {
namespace {

class SidecarReader {
 public:
  SidecarReader(const Json& root, std::string where) : m_root(root), m_where(std::move(where)) {}

  Result<RunFacts> run() {
    readTexts();
    readObjects();
    readUnderTest();
    readLimits("limits", m_facts.limits);
    readLimits("rated", m_facts.rated);
    readAccuracies();
    readPhases();
    readWork();
    readPasses();
    readEvents();
    if (!m_error.empty()) return Error::badInput(m_error);
    static const std::set<std::string> kKnown = {
        "setup", "load",     "started", "outcome",    "reason", "watched", "machine",      "under_test", "limits",
        "rated", "accuracy", "phases",  "conditions", "work",   "passes",  "score_better", "events"};
    for (const auto& [key, value] : m_root.items()) {
      if (!kKnown.contains(key)) m_facts.extra[key] = value;
    }
    return std::move(m_facts);
  }

 private:
  void fail(const std::string& key, const std::string& why) {
    if (m_error.empty()) m_error = fmt::format("{}: \"{}\" {}.", m_where, key, why);
  }
  // The value under a key; null when it is missing or null.
  Json find(const std::string& key) const {
    const auto found = m_root.find(key);
    return found == m_root.end() ? Json() : *found;
  }
  double number(const Json& part, const char* key, const std::string& where, bool isRequired = false) {
    const auto found = part.find(key);
    if (found == part.end() || found->is_null()) {
      if (isRequired) fail(where + "." + key, "is missing");
      return kMissing;
    }
    if (!found->is_number()) fail(where + "." + key, "must be a number");
    return found->is_number() ? found->get<double>() : kMissing;
  }
  std::string text(const Json& part, const char* key, const std::string& where) {
    const auto found = part.find(key);
    if (found == part.end() || found->is_null()) return {};
    if (!found->is_string()) fail(where + key, "must be a text");
    return found->is_string() ? found->get<std::string>() : std::string();
  }

  void readTexts() {
    m_facts.setup = text(m_root, "setup", "");
    m_facts.load = text(m_root, "load", "");
    m_facts.started = text(m_root, "started", "");
    m_facts.reason = text(m_root, "reason", "");
    m_facts.watched = text(m_root, "watched", "");
    const std::string outcome = text(m_root, "outcome", "");
    m_facts.outcome = outcomeFromText(outcome);
    if (!outcome.empty() && !m_facts.outcome)
      fail("outcome", fmt::format("is \"{}\", which is none of the known outcomes", outcome));
    const std::string better = text(m_root, "score_better", "");
    if (!better.empty() && better != "higher" && better != "lower")
      fail("score_better", "must be \"higher\" or \"lower\"");
    m_facts.lowerScoreIsBetter = better == "lower";
  }

  void readObjects() {
    for (const auto& [key, target] :
         {std::pair{"machine", &m_facts.machine}, std::pair{"conditions", &m_facts.conditions}}) {
      const Json value = find(key);
      if (value.is_null()) continue;
      if (value.is_object())
        *target = value;
      else
        fail(key, "must be an object");
    }
  }

  void readUnderTest() {
    const Json value = find("under_test");
    if (value.is_null()) return;
    if (!value.is_array()) return fail("under_test", "must be a list of field names");
    for (const Json& field : value) {
      if (field.is_string())
        m_facts.underTest.push_back(field.get<std::string>());
      else
        fail("under_test", "must be a list of field names");
    }
  }

  void readLimits(const char* key, std::map<std::string, std::map<std::string, double>>& target) {
    const Json value = find(key);
    if (value.is_null()) return;
    if (!value.is_object()) return fail(key, "must be an object");
    for (const auto& [role, limits] : value.items()) {
      if (!limits.is_object()) return fail(std::string(key) + "." + role, "must be an object");
      for (const auto& [name, limit] : limits.items()) {
        if (limit.is_number())
          target[role][name] = limit.get<double>();
        else if (!limit.is_null())
          fail(std::string(key) + "." + role + "." + name, "must be a number");
      }
    }
  }

  // "noise": 1.5, or {"plus_minus": 0.5, "percent": 1, "instrument": "meter A"}.
  void readAccuracies() {
    const Json value = find("accuracy");
    if (value.is_null()) return;
    if (!value.is_object()) return fail("accuracy", "must be an object");
    for (const auto& [role, stated] : value.items()) {
      Accuracy accuracy;
      const std::string where = "accuracy." + role;
      if (stated.is_number()) {
        accuracy.plusMinus = stated.get<double>();
      } else if (stated.is_object()) {
        const double fixed = number(stated, "plus_minus", where), share = number(stated, "percent", where);
        if (std::isfinite(fixed)) accuracy.plusMinus = fixed;
        if (std::isfinite(share)) accuracy.percent = share;
        accuracy.instrument = text(stated, "instrument", where + ".");
      } else {
        return fail(where, "must be a number or an object");
      }
      if (accuracy.plusMinus < 0 || accuracy.percent < 0) return fail(where, "must not be below zero");
      m_facts.accuracies[role] = accuracy;
    }
  }

  template <typename F>
  void eachOf(const char* key, F take) {
    const Json list = find(key);
    if (list.is_null()) return;
    if (!list.is_array()) return fail(key, "must be a list");
    for (size_t i = 0; i < list.size(); ++i) {
      const std::string where = fmt::format("{}[{}]", key, i);
      if (list[i].is_object())
        take(list[i], where);
      else
        fail(where, "must be an object");
    }
  }

  void readPhases() {
    eachOf("phases", [&](const Json& part, const std::string& where) {
      const auto kind = phaseKindFromText(text(part, "kind", where + "."));
      if (!kind) return fail(where + ".kind", "must be idle, soak, measure or cool");
      const double start = number(part, "start_s", where, true);
      const double end = number(part, "end_s", where, true);
      if (end < start) return fail(where, "ends before it starts");
      m_facts.phases.push_back({*kind, start, end, true});
    });
  }

  void readWork() {
    const Json work = find("work");
    if (work.is_null()) return;
    if (!work.is_object()) return fail("work", "must be an object");
    m_facts.work =
        RunFacts::Work{number(work, "units", "work"), text(work, "unit", "work."), number(work, "done_s", "work")};
  }

  void readPasses() {
    eachOf("passes", [&](const Json& part, const std::string& where) {
      Pass pass;
      pass.startS = number(part, "start_s", where, true);
      pass.endS = number(part, "end_s", where, true);
      pass.score = number(part, "score", where);
      const auto scores = part.find("scores");
      if (scores != part.end() && scores->is_object()) {
        for (const auto& [name, score] : scores->items()) {
          if (score.is_number()) pass.scores[name] = score.get<double>();
        }
      }
      m_facts.passes.push_back(pass);
    });
  }

  void readEvents() {
    eachOf("events", [&](const Json& part, const std::string& where) {
      Event event;
      event.atS = number(part, "at_s", where, true);
      event.kind = EventKind::fromText(text(part, "kind", where + "."));
      event.text = text(part, "text", where + ".");
      event.role = text(part, "role", where + ".");
      event.value = number(part, "value", where);
      event.valueHigh = number(part, "value_high", where);
      if (const std::string place = text(part, "place", where + "."); !place.empty()) event.extra["place"] = place;
      m_facts.events.push_back(event);
    });
  }

  const Json& m_root;
  std::string m_where;
  RunFacts m_facts;
  std::string m_error;
};

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
  return SidecarReader(root, where).run();
}

}  // namespace ash
