// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/log_facts.h"

#include <algorithm>

#include "model/iso_date.h"

namespace ash {

std::string startText(const LogFacts& facts) {
  return facts.startsS ? isoDateText(*facts.startsS) + (facts.startsInUtc ? "Z" : "") : std::string();
}

std::vector<std::string> whatItCannotTell(const LogFacts& facts) {
  const auto has = [&](auto isIt) {
    return std::any_of(facts.columns.begin(), facts.columns.end(),
                       [&](const ColumnFacts& one) { return one.taken > 0 && isIt(one.column.role); });
  };
  std::vector<std::string> wanting;
  if (!has([](const Role& role) { return role.isLoadedTemperature(); }))
    wanting.push_back("No temperature has a role: nothing is told of settling, limits or cooling.");
  else if (!has([](const Role& role) { return role.isRoom(); }))
    wanting.push_back("No room temperature: nothing is told over the room, unless it is typed.");
  if (!has([](const Role& role) { return role.quantity() == Quantity::Power; }))
    wanting.push_back("No power has a role: nothing is told of resistance, energy or efficiency.");
  return wanting;
}

Json factsToJson(const LogFacts& facts) {
  Json columns = Json::array(), problems = Json::array();
  for (const ColumnFacts& one : facts.columns) {
    Json refused = nullptr;
    if (one.firstRefused)
      refused = {
          {"line", one.firstRefused->line}, {"column", one.firstRefused->column}, {"text", one.firstRefused->text}};
    columns.push_back({{"name", one.column.name},
                       {"unit", one.column.unitText.empty() ? Json(nullptr) : Json(one.column.unitText)},
                       {"role", one.column.role.empty() ? Json(nullptr) : Json(one.column.role.text())},
                       {"why", roleReasonText(one.column.why)},
                       {"doubt", one.column.doubt.empty() ? Json(nullptr) : Json(one.column.doubt)},
                       {"taken", one.taken},
                       {"refused", one.refused},
                       {"first_refused", std::move(refused)}});
  }
  for (const Problem& problem : facts.problems) {
    problems.push_back({{"kind", problem.kind.text()},
                        {"channel", problem.channel.empty() ? Json(nullptr) : Json(problem.channel)},
                        {"text", problem.text}});
  }
  return {{"contract", 1},
          {"file", facts.file},
          {"encoding", facts.encoding},
          {"separator", facts.separator == 0 ? Json(nullptr) : Json(std::string(1, facts.separator))},
          {"decimal", std::string(1, facts.decimal)},
          {"header_line", facts.headerLine == 0 ? Json(nullptr) : Json(facts.headerLine)},
          {"first_line", facts.firstLine},
          {"rows", facts.rows},
          {"time",
           {{"columns", facts.timeNames},
            {"format", facts.timeFormat},
            {"starts", facts.startsS ? Json(startText(facts)) : Json(nullptr)},
            {"interval_s", facts.intervalS}}},
          {"columns", std::move(columns)},
          {"cannot_tell", whatItCannotTell(facts)},
          {"problems", std::move(problems)}};
}

}  // namespace ash
