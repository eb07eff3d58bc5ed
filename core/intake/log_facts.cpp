// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/log_facts.h"

#include "model/iso_date.h"

namespace ash {

std::string startText(const LogFacts& facts) {
  return facts.startsS ? isoDateText(*facts.startsS) + (facts.startsInUtc ? "Z" : "") : std::string();
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
          {"problems", std::move(problems)}};
}

}  // namespace ash
