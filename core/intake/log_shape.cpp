// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/log_shape.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <map>

#include "exchange/csv_cells.h"
#include "exchange/time_cell.h"
#include "model/text.h"
#include "model/unit.h"

namespace ash {
namespace {

constexpr char kBlank = ' ';
constexpr size_t kFewestRecords = 2, kMostCells = 5000;

bool isTimeText(std::string_view cell) {
  const auto time = readTimeCell(cell, false);
  return time && time->kind != TimeCell::Kind::Seconds;
}

// What stands in data: numbers with either mark, times, states, missing.
bool isValue(std::string_view cell) {
  double value = 0;
  return readLogNumber(cell, '.', value) || readLogNumber(cell, ',', value) || isTimeText(cell) ||
         readState(cell).has_value();
}

bool isRealValue(std::string_view cell) { return !cell.empty() && isValue(cell); }

bool isMeasured(std::string_view cell) {
  const auto measured = splitMeasured(cell);
  return measured && isValue(measured->number);
}

bool isData(const std::vector<std::string_view>& cells) {
  const auto values = static_cast<size_t>(std::count_if(
      cells.begin(), cells.end(), [](std::string_view cell) { return isValue(cell) || isMeasured(cell); }));
  const auto real = static_cast<size_t>(std::count_if(cells.begin(), cells.end(), isRealValue));
  return real >= 1 && 2 * values >= cells.size();
}

/// How well a way to cut fits: how many records in the head look like data with one number of cells.
struct Fit {
  size_t cells = 0, records = 0;
  bool isBetterThan(const Fit& other) const {
    return records * std::min<size_t>(cells, 50) > other.records * std::min<size_t>(other.cells, 50);
  }
};

Fit fitOf(CellCutter cutter, const std::vector<HeadRecord>& head) {
  std::map<size_t, size_t> counts;
  for (const HeadRecord& record : head) {
    const auto& cells = cutter.cut(record.text);
    if (cells.size() >= 2 && isData(cells)) ++counts[cells.size()];
  }
  Fit fit;
  for (const auto& [cells, records] : counts) {
    if (records > fit.records) fit = {cells, records};
  }
  return fit;
}

// Places where nothing stands in any line of the body, seen from most lines' length on.
CellCutter fixedWidth(const std::vector<HeadRecord>& head) {
  std::vector<const HeadRecord*> body;
  for (const HeadRecord& record : head) {
    const auto digits =
        std::count_if(record.text.begin(), record.text.end(), [](unsigned char c) { return std::isdigit(c); });
    if (digits >= 2 && std::isdigit(static_cast<unsigned char>(record.text.back())) != 0) body.push_back(&record);
  }
  size_t width = 0;
  for (const HeadRecord* record : body) width = std::max(width, record->text.size());
  std::vector<bool> isUsed(std::min<size_t>(width, 64 * 1024));
  for (const HeadRecord* record : body) {
    for (size_t i = 0; i < std::min(record->text.size(), isUsed.size()); ++i)
      if (record->text[i] != ' ') isUsed[i] = true;
  }
  std::vector<size_t> starts;
  for (size_t i = 0; i < isUsed.size(); ++i) {
    if (!isUsed[i] || (i > 0 && isUsed[i - 1])) continue;
    // Names stand over their numbers: a column begins behind the last one's end.
    size_t from = i;
    while (from > 0 && !isUsed[from - 1]) --from;
    starts.push_back(starts.empty() ? 0 : from);
  }
  return CellCutter(std::move(starts));
}

// The mark in the numbers of the body.
char decimalOf(CellCutter cutter, const std::vector<HeadRecord>& head, size_t cells) {
  size_t points = 0, commas = 0;
  for (const HeadRecord& record : head) {
    const auto& all = cutter.cut(record.text);
    if (all.size() != cells) continue;
    for (const std::string_view cell : all) {
      const size_t point = cell.find_last_of('.'), comma = cell.find_last_of(',');
      double value = 0;
      const auto measured = splitMeasured(cell);
      const std::string_view number = measured ? measured->number : cell;
      const bool asPoint = readLogNumber(number, '.', value), asComma = readLogNumber(number, ',', value);
      if (asPoint != asComma)
        (asComma ? commas : points) += 3;
      else if (asPoint && asComma && point != comma)
        // "1,234" and "1.234" are both: groups of three are a thousand in the one, a fraction in the other.
        (comma == std::string_view::npos ? points : commas) +=
            comma != std::string_view::npos && cutter.separator() == ',' ? 0 : 1;
    }
  }
  return commas > points ? ',' : '.';
}

bool isUnitCell(std::string_view cell) {
  if (cell.size() >= 2 && (cell.front() == '[' || cell.front() == '(')) cell = trimmed(cell.substr(1, cell.size() - 2));
  return cell.empty() || cell == "-" || matchUnit(cell).has_value() || cell == "°" || cell == "hh:mm:ss";
}

bool isUnitRow(const std::vector<std::string_view>& cells) {
  const auto units = static_cast<size_t>(std::count_if(cells.begin(), cells.end(), isUnitCell));
  const bool hasOne = std::any_of(cells.begin(), cells.end(),
                                  [](std::string_view c) { return !c.empty() && c != "-" && isUnitCell(c); });
  return hasOne && 10 * units >= 8 * cells.size();
}

bool isNameRow(const std::vector<std::string_view>& cells) {
  const auto words =
      std::count_if(cells.begin(), cells.end(), [](std::string_view cell) { return !cell.empty() && !isValue(cell); });
  return 2 * static_cast<size_t>(words) >= cells.size() && words >= 1;
}

std::vector<std::string> copied(const std::vector<std::string_view>& cells) { return {cells.begin(), cells.end()}; }

// Names, and units in a row of their own, above the first record.
void takeHeader(const std::vector<HeadRecord>& head, size_t first, LogShape& shape) {
  const auto fits = [&](size_t count) { return count + 1 >= shape.cells && count <= shape.cells + 1; };
  std::optional<size_t> units;
  for (size_t back = 1; back <= std::min<size_t>(first, 4); ++back) {
    const HeadRecord& record = head[first - back];
    const auto& cells = shape.cutter.cut(record.text);
    if (!fits(cells.size())) break;
    if (!units && isUnitRow(cells)) {
      units = first - back;
      shape.units = copied(cells);
    } else if (isNameRow(cells)) {
      shape.headerLine = record.line;
      shape.headerText = record.text;
      shape.names = copied(cells);
      return;
    }
  }
  shape.units.clear();
}

}  // namespace

const std::vector<std::string_view>& CellCutter::cut(std::string_view record) {
  m_cells.clear();
  if (m_separator == 0) {
    for (size_t i = 0; i < m_starts.size(); ++i) {
      const size_t from = std::min(m_starts[i], record.size());
      const size_t to = i + 1 < m_starts.size() ? std::min(m_starts[i + 1], record.size()) : record.size();
      m_cells.push_back(trimmed(record.substr(from, to - from)));
    }
  } else if (record.find('"') != std::string_view::npos) {
    m_quoted = splitCells(record, m_separator);
    m_cells.assign(m_quoted.begin(), m_quoted.end());
  } else {
    cutPlain(record);
  }
  return m_cells;
}

void CellCutter::cutPlain(std::string_view record) {
  if (m_separator == kBlank) record = trimmed(record);
  while (true) {
    const size_t end = record.find(m_separator);
    std::string_view cell = record.substr(0, end);
    if (!cell.empty() && (cell.front() <= ' ' || cell.back() <= ' ')) cell = trimmed(cell);
    m_cells.push_back(cell);
    if (end == std::string_view::npos) return;
    record.remove_prefix(end + 1);
    if (m_separator == kBlank) record.remove_prefix(std::min(record.find_first_not_of(kBlank), record.size()));
  }
}

Result<LogShape> shapeOf(const std::vector<HeadRecord>& head, const std::string& where) {
  LogShape shape;
  Fit best;
  for (const char separator : {';', '\t', ',', '|'}) {
    const CellCutter cutter(separator);
    if (const Fit fit = fitOf(cutter, head); fit.isBetterThan(best)) {
      best = fit;
      shape.cutter = cutter;
    }
  }
  // Names may hold blanks: columns that stand below each other are looked for first.
  for (const CellCutter& cutter : {fixedWidth(head), CellCutter(kBlank)}) {
    if (best.records >= kFewestRecords) break;
    if (const Fit fit = fitOf(cutter, head); fit.isBetterThan(best)) {
      best = fit;
      shape.cutter = cutter;
    }
  }
  if (best.records < kFewestRecords || best.cells > kMostCells)
    return Error::badInput(
        fmt::format("There is no log in {}: no lines of it have times and numbers in columns.", where));
  shape.cells = best.cells;
  shape.decimal = decimalOf(shape.cutter, head, best.cells);
  for (size_t i = 0; i < head.size(); ++i) {
    const auto& cells = shape.cutter.cut(head[i].text);
    if (cells.size() != shape.cells || !isData(cells)) continue;
    shape.firstLine = head[i].line;
    takeHeader(head, i, shape);
    break;
  }
  return shape;
}

}  // namespace ash
