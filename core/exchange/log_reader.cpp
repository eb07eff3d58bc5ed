// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/log_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <set>

#include "exchange/text_encoding.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kMostBadCellsTold = 20;  // per column

struct Header {
  std::string name, unit;
};

// "name [unit]" or "name (unit)". A UCUM code may hold brackets itself: "room.temp [[degF]]".
Header splitHeader(const std::string& given) {
  const std::string cell(unguardedCell(given));
  for (const auto& [open, close] : {std::pair{'[', ']'}, std::pair{'(', ')'}}) {
    const size_t at = cell.find(std::string(" ") + open);
    const size_t start = at != std::string::npos ? at + 1 : cell.find(open);
    if (start == std::string::npos || start == 0 || !cell.ends_with(close)) continue;
    return {std::string(trimmed(std::string_view(cell).substr(0, start))),
            std::string(trimmed(std::string_view(cell).substr(start + 1, cell.size() - start - 2)))};
  }
  return {cell, ""};
}

bool isTimeName(const std::string& name) {
  static const std::set<std::string> kNames = {"time",    "timestamp", "t",        "elapsed",   "elapsed time",
                                               "seconds", "date",      "datetime", "date time", "date/time"};
  return kNames.contains(lowerCase(name));
}

}  // namespace

Error LogReader::at(size_t column, const std::string& why) const {
  return Error::badInput(fmt::format("{}, line {}, column {}: {}.", m_input.where, m_records.line(), column + 1, why));
}

std::string LogReader::textOf(std::string_view bytes) const {
  return m_input.isWindows1252 ? fromWindows1252(bytes) : asUtf8(bytes);
}

Result<Log> LogReader::run() {
  m_format = detectCsvFormat(m_records.head());
  m_lastCells = LastCells(m_format.hasDecimalComma ? ',' : '.');
  std::string_view record;
  if (!m_records.next(record)) return Error::badInput(fmt::format("{} is empty: it holds no log.", m_input.where));
  if (Status header = readHeader(record); !header) return header.error();
  makeRoom();
  while (m_records.next(record)) {
    if (Status row = readRecord(record); !row) return row.error();
  }
  if (m_log.timeS.empty())
    return Error::badInput(
        fmt::format("{}, line 2: there is a header but no sample, so it holds no log.", m_input.where));
  const double firstS = m_log.timeS.front();
  for (double& t : m_log.timeS) t -= firstS;
  tellProblems(firstS);
  return std::move(m_log);
}

Status LogReader::readHeader(std::string_view record) {
  const auto cells = splitCells(textOf(record), m_format.separator);
  const Header time = splitHeader(cells.front());
  const auto unit = time.unit.empty() ? std::optional(UnitMatch{Quantity::Duration, 1, 0}) : matchUnit(time.unit);
  if (!isTimeName(time.name) || !unit || unit->quantity != Quantity::Duration) {
    return at(0, fmt::format("the first column must be the time, such as \"time [s]\" or \"timestamp\", not \"{}\"",
                             cells.front()));
  }
  m_axis = TimeAxis(unit->factor, m_format.hasDecimalComma);
  const bool hasOwnDate = lowerCase(time.name) == "date" && cells.size() > 1 && lowerCase(cells[1]) == "time";
  m_timeCells = hasOwnDate ? 2 : 1;
  for (size_t c = m_timeCells; c < cells.size(); ++c) addColumn(cells[c]);
  return {};
}

void LogReader::addColumn(const std::string& cell) {
  const Header header = splitHeader(cell);
  Channel channel;
  channel.name = header.name.empty() ? fmt::format("column {}", m_log.channels.size() + 2) : header.name;
  for (int number = 2; m_log.find(channel.name) != nullptr; ++number)
    channel.name = fmt::format("{} ({})", header.name, number);
  const Role role(channel.name);
  auto match = matchUnit(header.unit, role.quantity());
  if (!match && header.unit.empty() && role.isKnown()) match = UnitMatch{role.quantity(), 1, 0};
  const bool isLoose = role.quantity() == Quantity::Rate || role.quantity() == Quantity::FrameRate;
  if (isLoose) match = UnitMatch{role.quantity(), 1, 0};
  if (role.isKnown() && match && match->quantity == role.quantity()) {
    channel.role = role;
  } else if (role.isKnown()) {
    addProblem(ProblemKind::UnitMismatch, channel.name, kMissing, kMissing,
               fmt::format("{} is given in \"{}\", which is no {}; it is kept, but not used as a role.", channel.name,
                           header.unit, unitOf(role.quantity())));
  }
  const UnitMatch unit = match.value_or(UnitMatch{});
  m_columns.push_back({unit, unit.factor == 1 && unit.offset == 0, 0});
  channel.quantity = unit.quantity;
  channel.unit = match ? std::string(unitOf(channel.quantity)) : header.unit;
  m_log.channels.push_back(std::move(channel));
}

// As many rows as the beginning of the file promises: growing step by step would take the memory twice.
void LogReader::makeRoom() {
  const std::string_view ahead = m_records.ahead();
  const auto lines = static_cast<double>(std::count(ahead.begin(), ahead.end(), '\n'));
  if (lines < 2 || m_input.sizeB <= 0) return;
  const auto rows = static_cast<size_t>(m_input.sizeB / static_cast<double>(ahead.size()) * lines * 1.03) + 16;
  m_log.timeS.reserve(rows);
  for (Channel& channel : m_log.channels) channel.values.reserve(rows);
}

void LogReader::split(std::string_view record) {
  m_cells.clear();
  if (m_records.hasQuotes()) {
    m_quotedCells = splitCells(record, m_format.separator);
    m_cells.assign(m_quotedCells.begin(), m_quotedCells.end());
    return;
  }
  const char separator = m_format.separator;
  const char* begin = record.data();
  const char* const end = begin + record.size();
  for (const char* c = begin; c <= end; ++c) {
    if (c != end && *c != separator) continue;
    std::string_view cell(begin, static_cast<size_t>(c - begin));
    if (!cell.empty() && (cell.front() <= ' ' || cell.back() <= ' ')) cell = trimmed(cell);
    m_cells.push_back(cell);
    begin = c + 1;
  }
}

// A last line without its end: it lacks cells, or its last number lacks decimals that all before it had.
bool LogReader::isCutOff(const std::vector<std::string_view>& cells) const {
  if (cells.size() < m_columns.size() + m_timeCells || m_records.isInsideQuotes()) return true;
  return m_lastCells.isCut(cells.back());
}

std::string LogReader::timeText() const {
  return m_timeCells == 1 ? std::string(m_cells[0])
                          : fmt::format("{} {}", m_cells[0], m_cells.size() > 1 ? m_cells[1] : std::string_view());
}

Status LogReader::readRecord(std::string_view record) {
  // Zeros are what a file system leaves where power was lost.
  if (std::memchr(record.data(), '\0', record.size()) != nullptr) {
    m_cutLine = m_records.line();
    return {};
  }
  if (m_input.isWindows1252 &&
      std::any_of(record.begin(), record.end(), [](char c) { return static_cast<unsigned char>(c) >= 0x80; })) {
    m_converted = fromWindows1252(record);
    record = m_converted;
  }
  split(record);
  if (m_records.isOpen() && isCutOff(m_cells)) {
    m_cutLine = m_records.line();
    return {};
  }
  const auto timeS = m_timeCells == 1 ? m_axis.place(m_cells[0]) : m_axis.place(timeText());
  if (!timeS) {
    if (m_log.timeS.empty()) return at(0, fmt::format("\"{}\" is no time", asUtf8(timeText()).substr(0, 60)));
    addBadCell(0, m_cells[0], "time");
    return {};
  }
  for (size_t c = m_columns.size() + m_timeCells; c < m_cells.size(); ++c) {
    if (!m_cells[c].empty()) return at(c, "there are more cells than the header has columns");
  }
  m_log.timeS.push_back(*timeS);
  for (size_t c = 0; c < m_columns.size(); ++c)
    readValue(c, c + m_timeCells < m_cells.size() ? m_cells[c + m_timeCells] : std::string_view());
  m_lastCells.take(m_cells.back());
  return {};
}

void LogReader::readValue(size_t column, std::string_view cell) {
  double value = kMissing;
  const char mark = m_format.hasDecimalComma ? ',' : '.';
  if (!cell.empty() && !readPlainNumber(cell.data(), cell.data() + cell.size(), mark, value)) {
    const CellNumber number = readCell(cell, m_format.hasDecimalComma);
    value = number.value.value_or(kMissing);
    if (!number.value && !number.isMissing) addBadCell(column + m_timeCells, cell, m_log.channels[column].name);
  }
  m_log.channels[column].values.push_back(m_columns[column].isAsWritten ? value
                                                                        : m_columns[column].unit.toStored(value));
}

void LogReader::addBadCell(size_t column, std::string_view cell, const std::string& name) {
  const double t = m_log.timeS.empty() ? kMissing : m_log.timeS.back();
  if (column >= m_timeCells && ++m_columns[column - m_timeCells].badCells > kMostBadCellsTold) return;  // told below
  if (column < m_timeCells && m_badCells.size() > 10 * kMostBadCellsTold) return;
  m_badCells.push_back({t,
                        fmt::format("Line {}, column {} ({}): \"{}\" is no number and is left out.", m_records.line(),
                                    column + 1, name, asUtf8(cell.substr(0, 40))),
                        name});
}

void LogReader::addProblem(ProblemKind kind, std::string channel, double startS, double endS, std::string text) {
  m_log.problems.push_back({std::move(kind), std::move(channel), startS, endS, std::move(text)});
}

void LogReader::tellProblems(double firstS) {
  const double endS = m_log.timeS.back();
  if (m_cutLine > 0) {
    addProblem(ProblemKind::Truncated, "", endS, endS,
               fmt::format("The last line ({}) is cut off and left out.", m_cutLine));
  }
  for (const TimeAxis::Backward& back : m_axis.backward()) {
    addProblem(ProblemKind::BackwardTime, "", back.atS - firstS, back.atS - firstS,
               fmt::format("The time runs back by {:.3g} s after {:.1f} s; the axis carries on from there.", back.jumpS,
                           back.atS - firstS));
  }
  const auto& repeated = m_axis.repeatedAt();
  if (!repeated.empty()) {
    addProblem(ProblemKind::RepeatedTime, "", repeated.front() - firstS, repeated.back() - firstS,
               fmt::format("{} samples repeat the time of the one before and are not used.", repeated.size()));
  }
  for (const BadCell& bad : m_badCells)
    addProblem(ProblemKind::BadCell, bad.channel, bad.atS - firstS, bad.atS - firstS, bad.text);
  for (size_t c = 0; c < m_columns.size(); ++c) {
    if (m_columns[c].badCells <= kMostBadCellsTold) continue;
    addProblem(ProblemKind::BadCell, m_log.channels[c].name, 0, endS,
               fmt::format("{} cells of {} are no numbers in all.", m_columns[c].badCells, m_log.channels[c].name));
  }
}

}  // namespace ash
