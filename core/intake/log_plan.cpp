// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/log_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "intake/column_content.h"
#include "intake/role_words.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr char kEpoch[] = "epoch", kEpochMs[] = "epoch-ms";
constexpr double kEpochFromS = 6e8, kEpochToS = 1e10;  // 1989 to 2286

class Planner {
 public:
  Planner(LogShape& shape, const std::vector<HeadRecord>& head, const ImportWishes& wishes, std::string where)
      : m_shape(shape), m_head(head), m_wishes(wishes), m_where(std::move(where)), m_contents(shape, head) {}

  Status runOnNames(const std::vector<std::pair<std::string, std::string>>& names, LogPlan& plan) {
    Content aNumber;
    aNumber.numbers = 1;
    for (const auto& [name, unit] : names) {
      m_names.push_back(splitName(withoutControls(asUtf8(name))));
      if (!unit.empty()) m_names.back().unit = bareUnit(asUtf8(unit));
      addColumn(m_names.size() - 1, aNumber);
    }
    if (Status known = checkAsked(); !known) return known;
    settleRoles();
    plan.columns = std::move(m_plan.columns);
    return {};
  }

  Result<LogPlan> run() {
    for (size_t c = 0; c < m_shape.cells; ++c) m_names.push_back(nameOf(c));
    if (Status found = findTime(); !found) return found.error();
    if (findOnePerLine()) return std::move(m_plan);
    for (size_t c = 0; c < m_shape.cells; ++c) {
      const bool isTime = std::find(m_plan.timeCells.begin(), m_plan.timeCells.end(), c) != m_plan.timeCells.end();
      if (!isTime) addColumn(c, m_contents.of(c));
    }
    if (Status known = checkAsked(); !known) return known.error();
    settleRoles();
    return std::move(m_plan);
  }

 private:
  NameAndUnit nameOf(size_t cell) const {
    NameAndUnit both =
        splitName(cell < m_shape.names.size() ? withoutControls(asUtf8(m_shape.names[cell])) : std::string());
    if (cell < m_shape.units.size()) {
      if (const std::string unit = bareUnit(asUtf8(m_shape.units[cell])); !unit.empty()) both.unit = unit;
    }
    if (both.name.empty()) both.name = fmt::format("column {}", cell + 1);
    return both;
  }

  Status findTime() {
    if (!m_wishes.time.empty() && m_wishes.time != kEpoch && m_wishes.time != kEpochMs) return findPattern();
    const size_t none = m_shape.cells;
    size_t dated = none, clocked = none, counted = none;
    for (size_t c = 0; c < m_shape.cells; ++c) {
      const Content& content = m_contents.of(c);
      if (dated == none && m_contents.holdsDate(c)) dated = c;
      if (clocked == none && m_contents.holdsTimeOfDay(c)) clocked = c;
      if (counted == none && isTimeName(m_names[c].name) && isMostly(content.numbers, content) && content.isRising)
        counted = c;
    }
    if (!m_wishes.time.empty()) dated = clocked = none;
    if (dated != none && isDateOnly(m_shape, m_head, dated)) {
      if (clocked == none) return noTime("it has dates and no time of day");
      m_plan.timeCells = {dated, clocked};
    } else if (dated != none) {
      m_plan.timeCells = {dated};
    } else if (clocked != none) {
      m_plan.timeCells = {clocked};
    } else if (counted != none) {
      m_plan.timeCells = {counted};
    } else if (isMostly(m_contents.of(0).numbers, m_contents.of(0)) && m_contents.of(0).isRising &&
               m_contents.of(0).last > m_contents.of(0).first) {
      m_plan.timeCells = {0};
    } else {
      return noTime("no column of it is a time");
    }
    for (const size_t cell : m_plan.timeCells) m_plan.timeNames.push_back(m_names[cell].name);
    return settleTime(m_plan.timeCells.front());
  }

  // The column whose cells are written so, or two that are together.
  Status findPattern() {
    auto pattern = TimePattern::parse(m_wishes.time);
    if (!pattern) return pattern.error();
    std::vector<size_t> alone(m_shape.cells), withNext(m_shape.cells);
    size_t records = 0;
    for (const HeadRecord& record : m_head) {
      const auto& cells = m_shape.cutter.cut(record.text);
      if (record.line < m_shape.firstLine || record.text == m_shape.headerText || cells.size() != m_shape.cells)
        continue;
      ++records;
      for (size_t c = 0; c < cells.size(); ++c) {
        alone[c] += pattern->read(cells[c]).has_value();
        if (c + 1 < cells.size())
          withNext[c] += pattern->read(std::string(cells[c]) + " " + std::string(cells[c + 1])).has_value();
      }
    }
    const auto isWritten = [&](size_t count) { return count > 0 && 10 * count >= 6 * records; };
    const auto first = [&](const std::vector<size_t>& counts) {
      return static_cast<size_t>(std::find_if(counts.begin(), counts.end(), isWritten) - counts.begin());
    };
    if (const size_t cell = first(alone); cell < m_shape.cells)
      m_plan.timeCells = {cell};
    else if (const size_t pair = first(withNext); pair < m_shape.cells)
      m_plan.timeCells = {pair, pair + 1};
    if (m_plan.timeCells.empty())
      return Error::badInput(
          fmt::format("No column of {} is written as --time \"{}\" says.", m_where, withoutControls(m_wishes.time)));
    for (const size_t cell : m_plan.timeCells) m_plan.timeNames.push_back(m_names[cell].name);
    m_plan.timePattern = std::move(*pattern);
    return {};
  }

  Status noTime(const std::string& why) const {
    return Error::badInput(fmt::format("There is no log in {}: {}; --time says how it is written.", m_where, why));
  }

  Status settleTime(size_t cell) {
    const Content& content = m_contents.of(cell);
    if (!m_wishes.time.empty()) {
      m_plan.isEpoch = true;
      m_plan.isEpochMs = m_wishes.time == kEpochMs;
    } else if (isMostly(content.numbers, content)) {
      m_plan.isEpochMs = content.first > 1000 * kEpochFromS && content.first < 1000 * kEpochToS;
      m_plan.isEpoch = m_plan.isEpochMs || (content.first > kEpochFromS && content.first < kEpochToS);
      const auto unit = matchUnit(m_names[cell].unit.empty() ? lastWord(m_names[cell].name) : m_names[cell].unit);
      if (!m_plan.isEpoch && unit && unit->quantity == Quantity::Duration) m_plan.timeFactor = unit->factor;
    }
    if (m_plan.isEpochMs) m_plan.timeFactor = 1e-3;
    return {};
  }

  // "time; name; value" with or without a unit: one column of numbers, and names that come again and again.
  bool findOnePerLine() {
    std::vector<size_t> words, numbers;
    for (size_t c = 0; c < m_shape.cells; ++c) {
      if (std::find(m_plan.timeCells.begin(), m_plan.timeCells.end(), c) != m_plan.timeCells.end()) continue;
      const Content& content = m_contents.of(c);
      if (isMostly(content.numbers, content)) numbers.push_back(c);
      if (isMostly(content.words, content)) words.push_back(c);
    }
    if (numbers.size() != 1 || words.empty() || words.size() > 2) return false;
    const auto isUnit = [&](size_t cell) {
      return distinctOf(cell, true) > 0 && distinctOf(cell, false) == distinctOf(cell, true);
    };
    OnePerLine lines{words.front(), numbers.front(), std::nullopt};
    if (words.size() == 2) {
      if (!isUnit(words[0]) && !isUnit(words[1])) return false;
      lines.unit = isUnit(words[1]) ? words[1] : words[0];
      lines.name = isUnit(words[1]) ? words[0] : words[1];
    }
    if (!takesTurns(lines.name)) return false;
    m_plan.onePerLine = lines;
    return true;
  }

  std::vector<std::string> cellsOf(size_t cell) const {
    std::vector<std::string> all;
    for (const HeadRecord& record : m_head) {
      if (record.line < m_shape.firstLine || record.text == m_shape.headerText) continue;
      const auto& cells = m_shape.cutter.cut(record.text);
      if (cells.size() == m_shape.cells) all.emplace_back(cells[cell]);
    }
    return all;
  }
  size_t distinctOf(size_t cell, bool unitsOnly) const {
    std::set<std::string> distinct;
    for (const std::string& text : cellsOf(cell)) {
      if (!text.empty() && (!unitsOnly || matchUnit(text))) distinct.insert(text);
    }
    return distinct.size();
  }
  // Names that alternate, each of them again and again: no state that lasts, no note.
  bool takesTurns(size_t cell) const {
    const auto all = cellsOf(cell);
    const std::set<std::string> distinct(all.begin(), all.end());
    size_t changes = 0;
    for (size_t i = 1; i < all.size(); ++i) changes += all[i] != all[i - 1];
    return distinct.size() >= 2 && 2 * distinct.size() <= all.size() && 10 * changes >= 9 * (all.size() - 1);
  }

  static std::string lastWord(const std::string& name) {
    const auto words = wordsOfName(name);
    if (words.empty()) return {};
    return words.back() == "millis"    ? "ms"
           : words.back() == "minutes" ? "min"
           : words.back() == "hours"   ? "h"
                                       : words.back();
  }

  void addColumn(size_t cell, const Content& content) {
    PlannedColumn column;
    column.cell = cell;
    const std::string& own = m_names[cell].name;
    column.name = own;
    for (int number = 2; m_taken.contains(column.name); ++number) column.name = fmt::format("{} ({})", own, number);
    m_taken.insert(column.name);
    m_headers.insert(headerOf(cell));
    const auto isIt = [&](const std::string& skipped) { return skipped == column.name || skipped == headerOf(cell); };
    if (std::any_of(m_wishes.skip.begin(), m_wishes.skip.end(), isIt)) return;
    column.unitText = m_names[cell].unit;
    column.hasCellUnits = isMostly(content.measured, content);
    if (column.hasCellUnits && column.unitText.empty()) column.unitText = content.unit;
    if (isMostly(content.states, content)) column.kind = ColumnKind::States;
    if (isMostly(content.words + content.clocks + content.dates, content)) column.kind = ColumnKind::Words;
    if (column.kind == ColumnKind::Numbers) giveRole(column);
    m_plan.columns.push_back(std::move(column));
  }

  // The header as it stands in the file, unit and all; empty where there is none.
  std::string headerOf(size_t cell) const {
    return cell < m_shape.names.size() ? std::string(trimmed(m_shape.names[cell])) : std::string();
  }

  // By its name, or by the header as it stands.
  const SaidOfColumn* saidNow(const PlannedColumn& column) const {
    for (const std::string& name : {column.name, headerOf(column.cell)}) {
      if (const auto said = m_wishes.map.find(name); said != m_wishes.map.end()) return &said->second;
    }
    return nullptr;
  }

  void giveRole(PlannedColumn& column) {
    if (const SaidOfColumn* said = saidNow(column)) return take(column, *said, RoleReason::Map);
    const auto before = m_wishes.earlier.find(column.name);
    if (before != m_wishes.earlier.end()) return take(column, before->second, RoleReason::Earlier);
    const auto unit = matchUnit(column.unitText, Role(column.name).quantity());
    column.hasUnit = unit.has_value();
    if (unit) column.unit = *unit;
    if (const Role own(column.name); own.isKnown()) return takeRole(column, own, RoleReason::Rule);
    const auto words = wordsOfName(column.name);
    const Quantity byName = quantityOfName(words);
    const Quantity quantity = unit ? unit->quantity : column.unitText.empty() ? byName : Quantity::Other;
    if (unit && contradicts(byName, quantity)) {
      column.doubt = fmt::format("its name says {} and its unit {}", unitOf(byName), column.unitText);
      return;
    }
    takeRole(column, roleByWords(words, quantity), RoleReason::Rule);
  }

  // "Fan speed [%]" and "Battery charge [Wh]" are no contradictions: such words stand with several units.
  static bool contradicts(Quantity byName, Quantity byUnit) {
    constexpr std::array kStrict = {Quantity::Temperature, Quantity::Power, Quantity::Voltage, Quantity::Clock};
    const auto isStrict = [&](Quantity one) { return std::find(kStrict.begin(), kStrict.end(), one) != kStrict.end(); };
    return isStrict(byName) && byUnit != byName && (isStrict(byUnit) || byUnit == Quantity::FanSpeed);
  }

  void take(PlannedColumn& column, const SaidOfColumn& said, RoleReason why) {
    if (!said.unit.empty()) column.unitText = said.unit;
    const Role role(said.role);
    const auto unit = matchUnit(column.unitText, role.quantity());
    column.hasUnit = unit.has_value();
    if (unit) column.unit = *unit;
    column.why = why;
    if (!said.role.empty()) takeRole(column, role, why);
  }

  static void takeRole(PlannedColumn& column, const Role& role, RoleReason why) {
    if (role.empty()) return;
    if (column.hasUnit && column.unit.quantity != role.quantity() && role.isKnown()) {
      column.doubt =
          fmt::format("{} is kept in {} and its unit is {}", role.text(), unitOf(role.quantity()), column.unitText);
      return;
    }
    if (!column.hasUnit && !column.unitText.empty()) {
      column.doubt = fmt::format("\"{}\" is no unit of {}", column.unitText, role.text());
      return;
    }
    if (!column.hasUnit) column.unit = {role.quantity(), 1, 0};
    column.role = role;
    column.why = why;
  }

  // What was said counts before a rule, and a rule that fits two columns says nothing.
  void settleRoles() {
    std::map<std::string, size_t> bySay, byRule;
    for (const PlannedColumn& column : m_plan.columns) {
      if (column.role.empty()) continue;
      ++(column.why == RoleReason::Rule ? byRule : bySay)[column.role.text()];
    }
    std::set<std::string> given;
    for (PlannedColumn& column : m_plan.columns) {
      if (column.role.empty()) continue;
      const std::string role = column.role.text();
      const bool isRule = column.why == RoleReason::Rule;
      const bool isDoubtful = isRule && (byRule[role] > 1 || bySay[role] > 0);
      if (!isDoubtful && given.insert(role).second) continue;
      column.doubt = fmt::format("{} fits several columns; say which one it is (on the command line: --map)", role);
      column.role = Role();
      column.why = RoleReason::None;
    }
  }

  Status checkAsked() const {
    for (const auto& [name, said] : m_wishes.map) {
      if (m_taken.contains(name) || m_headers.contains(name)) continue;
      return Error::badInput(fmt::format("--map: there is no column \"{}\" in {}.", withoutControls(name), m_where));
    }
    for (const std::string& name : m_wishes.skip) {
      if (m_taken.contains(name) || m_headers.contains(name)) continue;
      return Error::badInput(fmt::format("--skip: there is no column \"{}\" in {}.", withoutControls(name), m_where));
    }
    return {};
  }

  LogShape& m_shape;
  const std::vector<HeadRecord>& m_head;
  const ImportWishes& m_wishes;
  std::string m_where;
  Contents m_contents;
  std::vector<NameAndUnit> m_names;
  std::set<std::string> m_taken, m_headers;
  LogPlan m_plan;
};

}  // namespace

std::string_view roleReasonText(RoleReason reason) {
  constexpr std::array<std::string_view, 4> kWords = {"map", "earlier", "rule", "none"};
  return kWords[static_cast<size_t>(reason)];
}

std::string PlannedColumn::storedUnit() const {
  if (kind == ColumnKind::States) return "state";
  const std::string_view known = unitOf(unit.quantity);
  return known.empty() ? unitText : std::string(known);
}

Result<std::pair<std::string, SaidOfColumn>> parseSaidOfColumn(const std::string& text) {
  const size_t equals = text.rfind('=');
  const std::string shown = withoutControls(text);
  if (equals == std::string::npos || equals == 0)
    return Error::badInput(fmt::format("--map \"{}\": write COLUMN=ROLE [UNIT].", shown));
  const std::string_view right = trimmed(std::string_view(text).substr(equals + 1));
  const size_t blank = right.find(' ');
  SaidOfColumn said{std::string(right.substr(0, blank)),
                    blank == std::string_view::npos ? std::string() : std::string(trimmed(right.substr(blank)))};
  const Role role(said.role);
  if (!said.role.empty() && !role.isKnown())
    return Error::badInput(fmt::format("--map \"{}\": there is no role \"{}\"; docs/analysis-contract.md lists them.",
                                       shown, withoutControls(said.role)));
  const auto unit = matchUnit(said.unit, role.quantity());
  if (!said.unit.empty() && (!unit || (role.isKnown() && unit->quantity != role.quantity())))
    return Error::badInput(
        fmt::format("--map \"{}\": \"{}\" is no unit of {}.", shown, withoutControls(said.unit), said.role));
  return std::pair(std::string(trimmed(std::string_view(text).substr(0, equals))), said);
}

Status planNames(const std::vector<std::pair<std::string, std::string>>& names, const ImportWishes& wishes,
                 const std::string& where, LogPlan& plan) {
  LogShape none;
  const std::vector<HeadRecord> noHead;
  return Planner(none, noHead, wishes, where).runOnNames(names, plan);
}

Result<LogPlan> planOf(LogShape& shape, const std::vector<HeadRecord>& head, const ImportWishes& wishes,
                       const std::string& where) {
  return Planner(shape, head, wishes, where).run();
}

}  // namespace ash
