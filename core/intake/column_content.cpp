// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/column_content.h"

#include <algorithm>
#include <array>

#include "exchange/time_cell.h"
#include "intake/role_words.h"
#include "model/text.h"
#include "model/unit.h"

namespace ash {
namespace {

constexpr size_t kEnoughCells = 200;

void take(Content& content, std::string_view cell, char decimal) {
  if (content.filled() > kEnoughCells * 10) return;
  double value = 0;
  if (readLogNumber(cell, decimal, value)) {
    if (std::isnan(value)) return;
    ++content.numbers;
    content.isRising = content.isRising && !(value < content.last);
    if (std::isnan(content.first)) content.first = value;
    content.last = value;
  } else if (const auto time = readTimeCell(cell, false); time && time->kind == TimeCell::Kind::Date) {
    ++content.dates;
  } else if (time && time->kind == TimeCell::Kind::Clock) {
    ++content.clocks;
  } else if (const auto measured = splitMeasured(cell); measured && readLogNumber(measured->number, decimal, value)) {
    ++content.numbers;
    ++content.measured;
    if (content.unit.empty()) content.unit = std::string(measured->unit);
  } else if (readState(cell)) {
    ++content.states;
  } else {
    ++content.words;
  }
}

}  // namespace

NameAndUnit splitName(const std::string& header) {
  const std::string text(trimmed(header));
  if (text.size() > 2 && (text.back() == ']' || text.back() == ')')) {
    const size_t open = text.find_last_of(text.back() == ']' ? '[' : '(');
    if (open != std::string::npos && open > 0) {
      const std::string unit(trimmed(text.substr(open + 1, text.size() - open - 2)));
      if (text.back() == ']' || matchUnit(unit)) return {std::string(trimmed(text.substr(0, open))), unit};
    }
  }
  for (const std::string_view between : {", ", " in ", " / ", "_", " "}) {
    const size_t at = text.rfind(between);
    if (at == std::string::npos || at == 0) continue;
    const std::string unit = text.substr(at + between.size());
    const bool isSure = between.front() == ',' || between == " in " || unit.size() > 1 || unit == "%" || unit == "W";
    if (isSure && unit != "min" && unit != "1" && matchUnit(unit))
      return {std::string(trimmed(text.substr(0, at))), unit};
  }
  return {text, {}};
}

std::string bareUnit(std::string unit) {
  if (unit.size() >= 2 && (unit.front() == '[' || unit.front() == '('))
    unit = std::string(trimmed(unit.substr(1, unit.size() - 2)));
  return unit == "-" ? std::string() : unit;
}

bool isTimeName(const std::string& name) {
  constexpr std::array kNames = {"time",  "timestamp", "date",  "datetime",    "elapsed", "zeit",     "uhrzeit",
                                 "datum", "heure",     "temps", "fecha",       "hora",    "tid",      "dato",
                                 "tijd",  "ora",       "czas",  "zeitstempel", "seconds", "sekunden", "t",
                                 "время", "дата",      "sec",   "secs",        "millis",  "ms"};
  const auto words = wordsOfName(name);
  return std::any_of(words.begin(), words.end(), [&](const std::string& word) {
    return std::find(kNames.begin(), kNames.end(), word) != kNames.end();
  });
}

bool isMostly(size_t part, const Content& content) { return part > 0 && 10 * part >= 6 * content.filled(); }

Contents::Contents(LogShape& shape, const std::vector<HeadRecord>& head) : m_all(shape.cells) {
  for (const HeadRecord& record : head) {
    if (record.line < shape.firstLine || record.text == shape.headerText) continue;
    const auto& cells = shape.cutter.cut(record.text);
    if (cells.size() != shape.cells) continue;
    for (size_t c = 0; c < cells.size(); ++c) take(m_all[c], cells[c], shape.decimal);
  }
}

bool isDateOnly(LogShape& shape, const std::vector<HeadRecord>& head, size_t cell) {
  for (const HeadRecord& record : head) {
    if (record.line < shape.firstLine) continue;
    const auto& cells = shape.cutter.cut(record.text);
    if (cells.size() == shape.cells && !cells[cell].empty()) return cells[cell].find(':') == std::string_view::npos;
  }
  return false;
}

}  // namespace ash
