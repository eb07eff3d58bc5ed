// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/foreign_log.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "exchange/last_cells.h"
#include "intake/log_bytes.h"
#include "intake/stamps.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kHeadRecords = 2000, kMostHeadB = 1 << 20, kProgressEvery = 4096, kIntervals = 20'000,
                 kMostEvents = 10'000, kMostProblems = 200, kLongestWord = 200, kMostHeldValues = 4'000'000,
                 kMostNames = 5000;

class Reader {
 public:
  Reader(const std::string& path, const ImportWishes& wishes, LogSink* sink, const ImportProgress& progress)
      : m_path(path), m_wishes(wishes), m_sink(sink), m_progress(progress) {}

  Result<LogFacts> run() {
    auto bytes = openLogBytes(m_path);
    if (!bytes) return bytes.error();
    m_bytes = std::move(*bytes);
    m_records.emplace(*m_bytes.source);
    if (m_records->head().starts_with("\xEF\xBB\xBF")) m_records->skip(3);
    if (Status found = lookAtHead(); !found) return found.error();
    for (const HeadRecord& record : m_head) {
      if (Status taken = take(record.text, record.line, record.isOpen); !taken) return taken.error();
    }
    m_head.clear();
    std::string_view record;
    while (m_records->next(record)) {
      if (Status taken = take(record, m_records->line(), m_records->isOpen()); !taken) return taken.error();
    }
    if (Status released = release(kMissing); !released) return released.error();
    return finish();
  }

 private:
  struct Row {
    double timeS;
    std::vector<double> values;
    std::vector<Event> events;
  };

  Status lookAtHead() {
    std::string_view record;
    size_t sizeB = 0;
    while (m_head.size() < kHeadRecords && sizeB < kMostHeadB && m_records->next(record)) {
      m_head.push_back({m_records->line(), std::string(record), m_records->isOpen()});
      sizeB += record.size();
    }
    auto shape = shapeOf(m_head, m_path);
    if (!shape) return shape.error();
    m_shape = std::move(*shape);
    auto plan = planOf(m_shape, m_head, m_wishes, m_path);
    if (!plan) return plan.error();
    m_plan = std::move(*plan);
    if (m_plan.onePerLine) {
      if (Status gathered = gatherNames(); !gathered) return gathered;
    }
    m_stamps.emplace(m_plan, m_shape.decimal);
    m_facts.head = markedHead(m_head, m_shape, m_plan);
    m_lastCells = LastCells(m_shape.decimal);
    m_facts.file = m_path;
    m_facts.encoding = m_bytes.encoding;
    m_facts.separator = m_shape.cutter.separator();
    m_facts.decimal = m_shape.decimal;
    m_facts.headerLine = m_shape.headerLine;
    m_facts.firstLine = m_shape.firstLine;
    m_facts.timeNames = m_plan.timeNames;
    std::vector<PlannedColumn> kept;
    for (const PlannedColumn& column : m_plan.columns) {
      m_facts.columns.push_back({column, 0, 0, std::nullopt});
      if (column.kind != ColumnKind::Words) kept.push_back(column);
    }
    m_words.resize(m_plan.columns.size());
    m_kept = std::move(kept);
    return {};
  }

  // The names of one reading a line: all of them must be known before the first row.
  Status gatherNames() {
    auto bytes = openLogBytes(m_path);
    if (!bytes) return bytes.error();
    CsvRecords records(*bytes->source);
    if (records.head().starts_with("\xEF\xBB\xBF")) records.skip(3);
    std::vector<std::pair<std::string, std::string>> names;
    std::set<std::string> seen;
    CellCutter cutter = m_shape.cutter;
    std::string_view record;
    while (records.next(record)) {
      if (records.line() < m_shape.firstLine || record == m_shape.headerText) continue;
      const auto& cells = cutter.cut(record);
      if (cells.size() != m_shape.cells) continue;
      const std::string name(cells[m_plan.onePerLine->name]);
      if (name.empty() || !seen.insert(name).second) continue;
      names.emplace_back(name, m_plan.onePerLine->unit ? std::string(cells[*m_plan.onePerLine->unit]) : std::string());
      if (names.size() > kMostNames)
        return Error::badInput(fmt::format("{} has more than {} names of readings.", m_path, kMostNames));
    }
    if (Status planned = planNames(names, m_wishes, m_path, m_plan); !planned) return planned;
    for (size_t i = 0; i < m_plan.columns.size(); ++i) m_places[names[m_plan.columns[i].cell].first] = i;
    return {};
  }

  Status takeLine(double timeS, const std::vector<std::string_view>& cells, size_t line) {
    const auto place = m_places.find(std::string(cells[m_plan.onePerLine->name]));
    if (place == m_places.end()) return {};
    const double value =
        valueOf(m_facts.columns[place->second], cells[m_plan.onePerLine->value], line, m_plan.onePerLine->value);
    const bool isSameRow =
        !m_held.empty() && m_held.back().timeS == timeS && std::isnan(m_held.back().values[place->second]);
    if (isSameRow) {
      m_held.back().values[place->second] = value;
      return {};
    }
    Row row{timeS, std::vector<double>(m_plan.columns.size(), kMissing), {}};
    row.values[place->second] = value;
    return hold(std::move(row));
  }

  Status take(std::string_view record, size_t line, bool isOpen) {
    if (++m_seen % kProgressEvery == 0 && m_progress) {
      const double share = m_bytes.sizeB > 0 ? *m_bytes.readB / m_bytes.sizeB : 0;
      if (!m_progress(std::min(share, 1.0))) return givenUp();
    }
    if (line < m_shape.firstLine) return {};
    if (!m_shape.headerText.empty() && record == m_shape.headerText) {
      ++m_repeatedHeaders;
      return {};
    }
    const auto& cells = m_shape.cutter.cut(record);
    const bool isWhole = cells.size() == m_shape.cells || (cells.size() == m_shape.cells + 1 && cells.back().empty());
    if (isOpen && isCutOff(cells)) {
      m_cutLine = line;
      return {};
    }
    const auto timeS = isWhole ? m_stamps->place(cells) : std::nullopt;
    if (!timeS) {
      if (m_otherLines++ == 0) m_firstOtherLine = line;
      return {};
    }
    m_lastCells.take(cells.back());
    return m_plan.onePerLine ? takeLine(*timeS, cells, line) : takeRow(*timeS, cells, line);
  }

  // A last line without its end: it lacks cells, or its last number is cut.
  bool isCutOff(const std::vector<std::string_view>& cells) const {
    if (cells.size() < m_shape.cells) return true;
    const size_t last = m_shape.cells - 1;
    const bool isNumber = std::any_of(m_plan.columns.begin(), m_plan.columns.end(), [&](const PlannedColumn& column) {
      return column.cell == last && column.kind == ColumnKind::Numbers;
    });
    const bool isValue = m_plan.onePerLine ? m_plan.onePerLine->value == last : isNumber;
    return isValue && m_lastCells.isCut(cells[last]);
  }

  Status takeRow(double timeS, const std::vector<std::string_view>& cells, size_t line) {
    Row row{timeS, {}, {}};
    for (size_t i = 0; i < m_plan.columns.size(); ++i) {
      const PlannedColumn& column = m_plan.columns[i];
      const std::string_view cell = cells[column.cell];
      if (column.kind == ColumnKind::Words)
        takeWord(i, cell, row);
      else
        row.values.push_back(valueOf(m_facts.columns[i], cell, line, column.cell));
    }
    return hold(std::move(row));
  }

  Status hold(Row row) {
    const double timeS = row.timeS;
    if (!m_held.empty() && timeS > m_held.front().timeS) {
      if (Status released = release(timeS); !released) return released;
    }
    if (m_held.size() * (m_kept.size() + 1) >= kMostHeldValues)
      return Error::badInput(
          fmt::format("{}: behind its row {} time stands still for {} rows; --time says how it is written.", m_path,
                      m_facts.rows, m_held.size()));
    m_held.push_back(std::move(row));
    return {};
  }

  double valueOf(ColumnFacts& facts, std::string_view cell, size_t line, size_t column) {
    double value = kMissing;
    if (facts.column.kind == ColumnKind::States) {
      const auto state = readState(cell);
      if (state) value = *state ? 1 : 0;
    }
    if (facts.column.hasCellUnits && std::isnan(value)) {
      if (const auto measured = measuredValue(facts.column, cell)) {
        ++facts.taken;
        return *measured;
      }
    }
    if (std::isnan(value) && !readLogNumber(cell, m_shape.decimal, value)) {
      if (facts.refused++ == 0) facts.firstRefused = RefusedCell{line, column + 1, shown(cell)};
      return kMissing;
    }
    if (!std::isfinite(value)) return kMissing;
    ++facts.taken;
    return facts.column.unit.toStored(value);
  }

  // In the stored unit, by the unit of the cell; none where it is of another quantity.
  std::optional<double> measuredValue(const PlannedColumn& column, std::string_view cell) const {
    const auto measured = splitMeasured(cell);
    double value = kMissing;
    if (!measured || !readLogNumber(measured->number, m_shape.decimal, value) || !std::isfinite(value))
      return std::nullopt;
    if (!column.hasUnit) return measured->unit == column.unitText ? std::optional(value) : std::nullopt;
    const auto unit = matchUnit(measured->unit, column.unit.quantity);
    return unit && unit->quantity == column.unit.quantity ? std::optional(unit->toStored(value)) : std::nullopt;
  }

  static std::string shown(std::string_view cell) {
    return withoutControls(asUtf8(std::string(cell.substr(0, kLongestWord))));
  }

  // A word is news when it changes.
  void takeWord(size_t i, std::string_view cell, Row& row);

  // Rows of one stamp are spread evenly until the next one, which comes at `untilS`.
  Status release(double untilS) {
    if (m_held.empty()) return {};
    const double fromS = m_held.front().timeS;
    const auto count = static_cast<double>(m_held.size());
    const double stepS = std::isfinite(untilS) ? (untilS - fromS) / count : std::min(m_lastStepS, 1e6);
    if (m_held.size() > 1) m_spreadRows += m_held.size();
    for (size_t i = 0; i < m_held.size(); ++i) {
      if (Status put = putRow(m_held[i], fromS + stepS * static_cast<double>(i)); !put) return put;
    }
    m_lastStepS = stepS;
    m_held.clear();
    return {};
  }

  Status putRow(const Row& row, double timeS) {
    if (m_facts.rows == 0) {
      m_firstS = timeS;
      if (m_stamps->hasDate()) m_facts.startsS = timeS;
      m_facts.startsInUtc = m_facts.startsS && m_stamps->isInUtc();
      if (m_stamps->countsSeconds()) m_facts.ownStartS = timeS;
      if (m_sink != nullptr) {
        if (Status begun = m_sink->begin(m_facts, m_kept); !begun) return begun;
      }
    } else {
      m_facts.closestS = std::min(m_facts.rows == 1 ? INFINITY : m_facts.closestS, timeS - m_lastS);
      if (m_intervals.size() < kIntervals) m_intervals.push_back(timeS - m_lastS);
    }
    m_lastS = timeS;
    ++m_facts.rows;
    if (m_sink == nullptr) return {};
    if (Status put = m_sink->row(timeS - m_firstS, row.values); !put) return put;
    for (Event event : row.events) {
      event.atS = timeS - m_firstS;
      if (Status put = m_sink->event(event); !put) return put;
    }
    return {};
  }

  Result<LogFacts> finish() {
    if (m_facts.rows < 2)
      return Error::badInput(fmt::format("There is no log in {}: it has {} row of readings.", m_path, m_facts.rows));
    if (m_stamps->isDayOrderOpen())
      return Error::badInput(fmt::format(
          "{}: its dates can be read in more than one order of day, month and year; say which with --time, e.g. "
          "--time \"DD/MM/YYYY hh:mm:ss\".",
          m_path));
    std::sort(m_intervals.begin(), m_intervals.end());
    m_facts.intervalS = m_intervals[m_intervals.size() / 2];
    m_facts.lengthS = m_lastS - m_firstS;
    if (m_facts.startsS) *m_facts.startsS += m_stamps->originTurnedS();
    m_facts.timeFormat = m_stamps->format();
    tellProblems();
    return std::move(m_facts);
  }

  void tell(ProblemKind kind, std::string channel, std::string text) {
    if (m_facts.problems.size() < kMostProblems)
      m_facts.problems.push_back({std::move(kind), std::move(channel), 0, m_facts.lengthS, std::move(text)});
  }

  void tellProblems() {
    if (m_cutLine > 0) tell(ProblemKind::Truncated, {}, fmt::format("Line {} is cut off: it is left out.", m_cutLine));
    if (m_bytes.zeros != nullptr && *m_bytes.zeros > 0)
      tell(ProblemKind::Damaged, {},
           fmt::format("{} zero bytes, as a power cut leaves them, are left out.", *m_bytes.zeros));
    if (m_bytes.isBroken != nullptr && *m_bytes.isBroken)
      tell(ProblemKind::Damaged, {}, "The packed file ends before its end: what could be unpacked is taken.");
    if (m_otherLines > 0)
      tell(ProblemKind::BadCell, {},
           fmt::format("{} lines hold no row of readings and are left out, the first is line {}.", m_otherLines,
                       m_firstOtherLine));
    if (m_repeatedHeaders > 0)
      tell(ProblemKind::BadCell, {}, fmt::format("The header stands {} times more among the rows.", m_repeatedHeaders));
    if (m_spreadRows > 0)
      tell(ProblemKind::RepeatedTime, {},
           fmt::format("Stamps are coarser than rows: {} rows are spread evenly between them.", m_spreadRows));
    if (m_stamps->backward() > 0)
      tell(ProblemKind::BackwardTime, {},
           fmt::format("Its time goes back {} times; rows go on from the last good stamp.", m_stamps->backward()));
    for (const ColumnFacts& facts : m_facts.columns) {
      if (!facts.column.doubt.empty())
        tell(ProblemKind::UnitMismatch, facts.column.name,
             fmt::format("{} has no role: {}.", facts.column.name, facts.column.doubt));
      if (facts.refused == 0) continue;
      tell(ProblemKind::BadCell, facts.column.title(),
           fmt::format("{}: {} no number, the first in line {}, column {}: \"{}\".", facts.column.name,
                       facts.refused == 1 ? "1 cell is" : fmt::format("{} cells are", facts.refused),
                       facts.firstRefused->line, facts.firstRefused->column, facts.firstRefused->text));
    }
  }

  std::string m_path;
  const ImportWishes& m_wishes;
  LogSink* m_sink;
  const ImportProgress& m_progress;
  LogBytes m_bytes;
  std::optional<CsvRecords> m_records;
  std::vector<HeadRecord> m_head;
  LogShape m_shape;
  LogPlan m_plan;
  std::optional<Stamps> m_stamps;
  LastCells m_lastCells;
  LogFacts m_facts;
  std::vector<PlannedColumn> m_kept;       // those that rows have values of
  std::map<std::string, size_t> m_places;  // of names, where one reading stands a line
  std::vector<std::string> m_words;        // the last of each column of words
  size_t m_seen = 0, m_otherLines = 0, m_firstOtherLine = 0, m_repeatedHeaders = 0, m_spreadRows = 0, m_cutLine = 0,
         m_events = 0;
  double m_firstS = 0, m_lastS = 0, m_lastStepS = 1;
  std::vector<Row> m_held;
  std::vector<double> m_intervals;
};

void Reader::takeWord(size_t i, std::string_view cell, Row& row) {
  ColumnFacts& facts = m_facts.columns[i];
  if (cell.empty()) return;
  ++facts.taken;
  std::string word = shown(cell);
  if (word == m_words[i] || m_events >= kMostEvents) return;
  m_words[i] = word;
  ++m_events;
  Event event;
  event.kind = EventKind::Change;
  event.text = fmt::format("{}: {}", facts.column.name, word);
  row.events.push_back(std::move(event));
}

}  // namespace

Error givenUp() { return Error::badInput("It was given up: nothing of the log was kept."); }

Result<LogFacts> readForeignLog(const std::string& path, const ImportWishes& wishes, LogSink* sink,
                                const ImportProgress& progress) {
  return Reader(path, wishes, sink, progress).run();
}

}  // namespace ash
