// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/foreign_log.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <deque>

#include "exchange/time_axis.h"
#include "intake/log_bytes.h"
#include "model/iso_date.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kHeadRecords = 2000, kMostHeadB = 1 << 20, kProgressEvery = 4096, kIntervals = 20'000,
                 kMostEvents = 10'000, kMostProblems = 200, kLongestWord = 200, kMostHeld = 100'000;

/// Stamps as seconds that never go back.
class Stamps {
 public:
  Stamps(const LogPlan& plan, char decimal)
      : m_plan(plan), m_axis(plan.timePattern ? 1 : plan.timeFactor, decimal == ',') {}

  std::optional<double> place(const std::vector<std::string_view>& cells) {
    if (m_plan.timeCells.size() == 1 && !m_plan.timePattern) return m_axis.place(cells[m_plan.timeCells[0]]);
    m_text.clear();
    for (const size_t cell : m_plan.timeCells) {
      if (!m_text.empty()) m_text += ' ';
      m_text += cells[cell];
    }
    if (!m_plan.timePattern) return m_axis.place(m_text);
    const auto seconds = m_plan.timePattern->read(m_text);
    return seconds ? std::optional(onwards(*seconds)) : std::nullopt;
  }

  bool isDayOrderOpen() const { return !m_plan.timePattern && m_axis.isDayOrderOpen(); }
  bool hasDate() const {
    if (m_plan.timePattern) return m_plan.timePattern->hasDate();
    return m_plan.isEpoch || (m_axis.first() && m_axis.first()->kind == TimeCell::Kind::Date);
  }
  size_t backward() const { return m_backward + m_axis.backward().size(); }
  double firstBackwardS() const { return m_axis.backward().empty() ? m_firstBackwardS : m_axis.backward().front().atS; }
  std::string format() const {
    if (m_plan.timePattern) return m_plan.timePattern->text();
    if (m_plan.isEpochMs) return "epoch-ms";
    if (m_plan.isEpoch) return "epoch";
    const auto first = m_axis.first();
    if (!first || first->kind == TimeCell::Kind::Seconds)
      return m_plan.timeFactor == 1 ? "s" : fmt::format("{:g} s", m_plan.timeFactor);
    return first->kind == TimeCell::Kind::Date ? "date and time" : "time of day";
  }

 private:
  double onwards(double raw) {
    constexpr double kDayS = 86'400;
    if (m_hasAny && !m_plan.timePattern->hasDate() && raw < m_lastRaw - kDayS / 2)
      m_shiftS += kDayS, m_lastRaw -= kDayS;
    if (m_hasAny && raw < m_lastRaw) {
      m_shiftS = m_last - raw;
      if (m_backward++ == 0) m_firstBackwardS = m_last;
    }
    m_hasAny = true;
    m_lastRaw = raw;
    return m_last = raw + m_shiftS;
  }

  const LogPlan& m_plan;
  TimeAxis m_axis;
  std::string m_text;
  bool m_hasAny = false;
  double m_lastRaw = 0, m_last = 0, m_shiftS = 0, m_firstBackwardS = kMissing;
  size_t m_backward = 0;
};

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
      if (Status taken = take(record.text, record.line); !taken) return taken.error();
    }
    m_head.clear();
    std::string_view record;
    while (m_records->next(record)) {
      if (Status taken = take(record, m_records->line()); !taken) return taken.error();
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
      m_head.push_back({m_records->line(), std::string(record)});
      sizeB += record.size();
    }
    auto shape = shapeOf(m_head, m_path);
    if (!shape) return shape.error();
    m_shape = std::move(*shape);
    auto plan = planOf(m_shape, m_head, m_wishes, m_path);
    if (!plan) return plan.error();
    m_plan = std::move(*plan);
    m_stamps.emplace(m_plan, m_shape.decimal);
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

  Status take(std::string_view record, size_t line) {
    if (++m_seen % kProgressEvery == 0 && m_progress) {
      const double share = m_bytes.sizeB > 0 ? *m_bytes.readB / m_bytes.sizeB : 0;
      if (!m_progress(std::min(share, 1.0))) return Error::badInput("It was given up: nothing of the log was kept.");
    }
    if (line < m_shape.firstLine) return {};
    if (!m_shape.headerText.empty() && record == m_shape.headerText) {
      ++m_repeatedHeaders;
      return {};
    }
    const auto& cells = m_shape.cutter.cut(record);
    const bool isWhole = cells.size() == m_shape.cells || (cells.size() == m_shape.cells + 1 && cells.back().empty());
    const bool isEnd = m_records->isOpen() && m_head.empty();
    const auto timeS = isWhole ? m_stamps->place(cells) : std::nullopt;
    if (!timeS) {
      if (isEnd && !isWhole)
        m_cutLine = line;
      else if (m_otherLines++ == 0)
        m_firstOtherLine = line;
      return {};
    }
    return takeRow(*timeS, cells, line);
  }

  Status takeRow(double timeS, const std::vector<std::string_view>& cells, size_t line) {
    Row row{timeS, {}, {}};
    for (size_t i = 0; i < m_plan.columns.size(); ++i) {
      const PlannedColumn& column = m_plan.columns[i];
      const std::string_view cell = cells[column.cell];
      if (column.kind == ColumnKind::Words)
        takeWord(i, cell, row);
      else
        row.values.push_back(valueOf(m_facts.columns[i], cell, line));
    }
    if (!m_held.empty() && timeS > m_held.front().timeS) {
      if (Status released = release(timeS); !released) return released;
    }
    if (m_held.size() >= kMostHeld)
      return Error::badInput(
          fmt::format("{}, line {}: its time stands still for {} rows; --time says how it is written.", m_path, line,
                      m_held.size()));
    m_held.push_back(std::move(row));
    return {};
  }

  double valueOf(ColumnFacts& facts, std::string_view cell, size_t line) {
    double value = kMissing;
    if (facts.column.kind == ColumnKind::States) {
      const auto state = readState(cell);
      if (state) value = *state ? 1 : 0;
    }
    if (std::isnan(value) && !readLogNumber(cell, m_shape.decimal, value)) {
      if (facts.refused++ == 0) facts.firstRefused = RefusedCell{line, facts.column.cell + 1, shown(cell)};
      return kMissing;
    }
    if (!std::isfinite(value)) return kMissing;
    ++facts.taken;
    return facts.column.unit.toStored(value);
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
      if (m_sink != nullptr) {
        if (Status begun = m_sink->begin(m_facts, m_kept); !begun) return begun;
      }
    } else if (m_intervals.size() < kIntervals) {
      m_intervals.push_back(timeS - m_lastS);
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
      return Error::badInput(
          fmt::format("{}: its dates may be day/month or month/day; say which with --time, e.g. "
                      "--time \"DD/MM/YYYY hh:mm:ss\".",
                      m_path));
    std::sort(m_intervals.begin(), m_intervals.end());
    m_facts.intervalS = m_intervals[m_intervals.size() / 2];
    m_facts.lengthS = m_lastS - m_firstS;
    m_facts.timeFormat = m_stamps->format();
    tellProblems();
    return std::move(m_facts);
  }

  void tell(ProblemKind kind, std::string channel, std::string text) {
    if (m_facts.problems.size() < kMostProblems)
      m_facts.problems.push_back({kind, std::move(channel), 0, m_facts.lengthS, std::move(text)});
  }

  void tellProblems() {
    if (m_cutLine > 0) tell(ProblemKind::Truncated, {}, fmt::format("Line {} is cut off: it is left out.", m_cutLine));
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
           fmt::format("{}: {} cells are no number, the first in line {}, column {}: \"{}\".", facts.column.name,
                       facts.refused, facts.firstRefused->line, facts.firstRefused->column, facts.firstRefused->text));
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
  LogFacts m_facts;
  std::vector<PlannedColumn> m_kept;  // those that rows have values of
  std::vector<std::string> m_words;   // the last of each column of words
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

Result<LogFacts> readForeignLog(const std::string& path, const ImportWishes& wishes, LogSink* sink,
                                const ImportProgress& progress) {
  return Reader(path, wishes, sink, progress).run();
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
            {"starts", facts.startsS ? Json(isoDateText(*facts.startsS)) : Json(nullptr)},
            {"interval_s", facts.intervalS}}},
          {"columns", std::move(columns)},
          {"problems", std::move(problems)}};
}

}  // namespace ash
