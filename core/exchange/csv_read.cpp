// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_read.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <set>
#include <sstream>

#include "exchange/csv_table.h"
#include "exchange/text_encoding.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

struct Header {
  std::string name, unit;
};

// "name [unit]" or "name (unit)". A UCUM code may hold brackets itself: "room.temp [[degF]]".
Header splitHeader(const std::string& cell) {
  for (const auto& [open, close] : {std::pair{'[', ']'}, std::pair{'(', ')'}}) {
    const size_t at = cell.find(std::string(" ") + open);
    const size_t start = at != std::string::npos ? at + 1 : cell.find(open);
    if (start == std::string::npos || start == 0 || !cell.ends_with(close)) continue;
    return {std::string(trimmed(std::string_view(cell).substr(0, start))),
            std::string(trimmed(std::string_view(cell).substr(start + 1, cell.size() - start - 2)))};
  }
  return {cell, ""};
}

bool isTimeName(std::string name) {
  std::transform(name.begin(), name.end(), name.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  static const std::set<std::string> kNames = {"time",    "timestamp", "t",        "elapsed",   "elapsed time",
                                               "seconds", "date",      "datetime", "date time", "date/time"};
  return kNames.contains(name);
}

class LogReader {
 public:
  LogReader(CsvTable table, std::string where) : m_table(std::move(table)), m_where(std::move(where)) {}

  Result<Log> run() {
    if (m_table.rows.empty()) return Error::badInput(fmt::format("{} is empty: it holds no log.", m_where));
    if (Status header = readHeader(); !header) return header.error();
    dropCutLine();
    for (size_t r = 1; r < m_table.rows.size(); ++r) {
      if (Status row = readRow(m_table.rows[r]); !row) return row.error();
    }
    if (m_log.timeS.empty()) {
      return Error::badInput(fmt::format("{}, line 2: there is a header but no sample, so it holds no log.", m_where));
    }
    finishTimes();
    return std::move(m_log);
  }

 private:
  struct Column {
    UnitMatch unit;
    size_t badCells = 0;
  };

  Error at(const CsvRow& row, size_t column, const std::string& why) const {
    return Error::badInput(fmt::format("{}, line {}, column {}: {}.", m_where, row.line, column + 1, why));
  }

  Status readHeader() {
    const CsvRow& row = m_table.rows.front();
    const Header time = splitHeader(row.cells.front());
    const auto unit = time.unit.empty() ? std::optional(UnitMatch{Quantity::Duration, 1, 0}) : matchUnit(time.unit);
    if (!isTimeName(time.name) || !unit || unit->quantity != Quantity::Duration) {
      return at(row, 0,
                fmt::format("the first column must be the time, such as \"time [s]\" or \"timestamp\", not \"{}\"",
                            row.cells.front()));
    }
    m_timeFactor = unit->factor;
    for (size_t c = 1; c < row.cells.size(); ++c) addColumn(row.cells[c]);
    return {};
  }

  void addColumn(const std::string& cell) {
    const Header header = splitHeader(cell);
    Channel channel;
    channel.name = header.name.empty() ? fmt::format("column {}", m_log.channels.size() + 2) : header.name;
    for (int number = 2; m_log.find(channel.name) != nullptr; ++number)
      channel.name = fmt::format("{} ({})", header.name, number);
    const auto role = findRole(channel.name);
    auto match = matchUnit(header.unit);
    if (!match && header.unit.empty() && role) match = UnitMatch{role->quantity, 1, 0};
    const bool isLoose = role && (role->quantity == Quantity::Rate || role->quantity == Quantity::FrameRate);
    if (isLoose) match = UnitMatch{role->quantity, 1, 0};
    if (role && match && match->quantity == role->quantity) {
      channel.role = channel.name;
    } else if (role) {
      addProblem("unit_mismatch", channel.name, kMissing, kMissing,
                 fmt::format("{} is given in \"{}\", which is no {}; it is kept, but not used as a role.", channel.name,
                             header.unit, unitOf(role->quantity)));
    }
    m_columns.push_back({match.value_or(UnitMatch{}), 0});
    channel.quantity = m_columns.back().unit.quantity;
    channel.unit = match ? std::string(unitOf(channel.quantity)) : header.unit;
    m_log.channels.push_back(std::move(channel));
  }

  // Without a newline at its end the last line may have been cut: it is left out when it is visibly incomplete.
  void dropCutLine() {
    if (m_table.rows.size() < 2 || m_table.endsWithNewline) return;
    const CsvRow& last = m_table.rows.back();
    const size_t expected = m_table.rows.front().cells.size();
    bool isCut = last.cells.size() < expected || m_table.endsInsideQuotes;
    if (!isCut && expected > 1) {
      const CellNumber cell = readCell(last.cells.back(), m_table.hasDecimalComma);
      const bool isHalfNumber = !cell.value && !cell.isMissing;
      isCut = isHalfNumber || last.cells.back() == "-" || last.cells.back().ends_with('.');
    }
    if (!isCut) return;
    addProblem("truncated", "", kMissing, kMissing,
               fmt::format("The last line ({}) is cut off and left out.", last.line));
    m_table.rows.pop_back();
  }

  Status readRow(const CsvRow& row) {
    const auto time = readTimeCell(row.cells.front(), m_table.hasDecimalComma);
    if (!time) {
      if (m_log.timeS.empty()) return at(row, 0, fmt::format("\"{}\" is no time", row.cells.front()));
      addBadCell(row, 0, "time");
      return {};
    }
    for (size_t c = m_columns.size() + 1; c < row.cells.size(); ++c) {
      if (!row.cells[c].empty()) return at(row, c, "there are more cells than the header has columns");
    }
    const double seconds = placeTime(*time * m_timeFactor);
    m_log.timeS.push_back(seconds);
    for (size_t c = 0; c < m_columns.size(); ++c) {
      const std::string cell = c + 1 < row.cells.size() ? row.cells[c + 1] : std::string();
      const CellNumber number = readCell(cell, m_table.hasDecimalComma);
      if (!number.value && !number.isMissing) addBadCell(row, c + 1, m_log.channels[c].name);
      m_log.channels[c].values.push_back(number.value ? m_columns[c].unit.toStored(*number.value) : kMissing);
    }
    return {};
  }

  // Where a stamp belongs on an axis that never runs back.
  double placeTime(double raw) {
    if (m_log.timeS.empty()) {
      m_lastRaw = raw;
      return raw;
    }
    const double last = m_log.timeS.back();
    if (raw < m_lastRaw) {
      m_shiftS = last + (m_lastStepS > 0 ? m_lastStepS : 0) - raw;
      m_backward.push_back({last, m_lastRaw - raw});
    } else if (raw == m_lastRaw) {
      m_repeatedAt.push_back(last);
    } else {
      m_lastStepS = raw - m_lastRaw;
    }
    m_lastRaw = raw;
    // Shifting back and forth rounds: a hair below the stamp before is that stamp.
    return std::max(last, raw + m_shiftS);
  }

  void addBadCell(const CsvRow& row, size_t column, const std::string& name) {
    const double t = m_log.timeS.empty() ? kMissing : m_log.timeS.back();
    const std::string cell = column < row.cells.size() ? row.cells[column] : "";
    if (column > 0 && ++m_columns[column - 1].badCells > 20) return;  // told once more below
    m_badCells.push_back({t,
                          fmt::format("Line {}, column {} ({}): \"{}\" is no number and is left out.", row.line,
                                      column + 1, name, cell.substr(0, 40)),
                          name});
  }

  void addProblem(std::string kind, std::string channel, double start, double end, std::string text) {
    m_log.problems.push_back({std::move(kind), std::move(channel), start, end, std::move(text)});
  }

  void finishTimes() {
    const double first = m_log.timeS.front();
    for (double& t : m_log.timeS) t -= first;
    for (const auto& [at, jump] : m_backward) {
      addProblem("backward_time", "", at - first, at - first,
                 fmt::format("The time runs back by {:.3g} s after {:.1f} s; the axis carries on from there.", jump,
                             at - first));
    }
    if (!m_repeatedAt.empty()) {
      addProblem("repeated_time", "", m_repeatedAt.front() - first, m_repeatedAt.back() - first,
                 fmt::format("{} samples repeat the time of the one before and are not used.", m_repeatedAt.size()));
    }
    for (const auto& bad : m_badCells) addProblem("bad_cell", bad.channel, bad.atS - first, bad.atS - first, bad.text);
    for (size_t c = 0; c < m_columns.size(); ++c) {
      if (m_columns[c].badCells <= 20) continue;
      addProblem("bad_cell", m_log.channels[c].name, kMissing, kMissing,
                 fmt::format("{} cells of {} are no numbers in all.", m_columns[c].badCells, m_log.channels[c].name));
    }
  }

  struct BadCell {
    double atS;
    std::string text, channel;
  };

  CsvTable m_table;
  std::string m_where;
  Log m_log;
  std::vector<Column> m_columns;
  double m_timeFactor = 1;
  double m_lastRaw = 0, m_shiftS = 0, m_lastStepS = 0;
  std::vector<std::pair<double, double>> m_backward;
  std::vector<double> m_repeatedAt;
  std::vector<BadCell> m_badCells;
};

Result<std::string> readWholeFile(const std::string& path) {
  std::error_code error;
  if (std::filesystem::is_directory(path, error)) {
    return Error::badInput(fmt::format("{} is a folder; give a CSV file.", path));
  }
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error::badInput(fmt::format("Cannot read {}: {}.", path, std::generic_category().message(errno)));
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

}  // namespace

Result<Log> parseCsvLog(const std::string& bytes, const std::string& where) {
  auto text = toUtf8(bytes, where);
  if (!text) return text.error();
  return LogReader(splitCsv(*text), where).run();
}

Result<Log> readCsvLog(const std::string& path) {
  auto bytes = readWholeFile(path);
  if (!bytes) return bytes.error();
  return parseCsvLog(*bytes, path);
}

std::string runNameOfFile(const std::string& path) {
  const std::string name = std::filesystem::path(path).filename().string();
  return name.ends_with(".csv") || name.ends_with(".CSV") ? name.substr(0, name.size() - 4) : name;
}

Result<RunFacts> readSidecar(const std::string& path) {
  auto text = readWholeFile(path);
  if (!text) return text.error();
  return parseSidecar(*text, path);
}

Result<RunLog> readRunFiles(const std::string& csvPath) {
  auto log = readCsvLog(csvPath);
  if (!log) return log.error();
  RunLog run;
  run.name = runNameOfFile(csvPath);
  run.log = std::move(*log);
  const auto folder = std::filesystem::path(csvPath).parent_path();
  const auto sidecar = folder / (run.name + ".meta.json");
  std::error_code error;
  if (std::filesystem::exists(sidecar, error)) {
    auto facts = readSidecar(sidecar.string());
    if (!facts) return facts.error();
    run.facts = std::move(*facts);
  }
  if (run.facts.setup.empty()) run.facts.setup = run.name;
  return run;
}

}  // namespace ash
