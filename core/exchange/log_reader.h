// SPDX-License-Identifier: GPL-3.0-or-later
// Records of a CSV file to a log: header, times, cells, and what is wrong with them.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "exchange/csv_cells.h"
#include "exchange/csv_records.h"
#include "exchange/last_cells.h"
#include "exchange/time_axis.h"
#include "model/result.h"
#include "model/samples.h"
#include "model/unit.h"

namespace ash {

/// Reads one log. Values go to their columns as they are read; nothing else of the file is kept.
class LogReader {
 public:
  struct Input {
    std::string where;           ///< names the file in messages
    double sizeB = 0;            ///< of the file, to make room at once; 0 = unknown
    bool isWindows1252 = false;  ///< else UTF-8
  };
  LogReader(CsvRecords& records, Input input) : m_records(records), m_input(std::move(input)) {}

  /// Once.
  Result<Log> run();

 private:
  struct Column {
    UnitMatch unit;
    bool isAsWritten = true;  // no conversion
    size_t badCells = 0;
  };
  struct BadCell {
    double atS;
    std::string text, channel;
  };

  Error at(size_t column, const std::string& why) const;
  std::string textOf(std::string_view bytes) const;
  Status readHeader(std::string_view record);
  void addColumn(const std::string& cell);
  void makeRoom();
  Status readRecord(std::string_view record);
  bool isCutOff(const std::vector<std::string_view>& cells) const;
  void split(std::string_view record);
  std::string timeText() const;
  void readValue(size_t column, std::string_view cell);
  void addBadCell(size_t column, std::string_view cell, const std::string& name);
  void addProblem(ProblemKind kind, std::string channel, double startS, double endS, std::string text);
  void tellProblems(double firstS);

  CsvRecords& m_records;
  Input m_input;
  CsvFormat m_format;
  Log m_log;
  std::vector<Column> m_columns;
  TimeAxis m_axis;
  size_t m_timeCells = 1;                 // 2: a date and a time of day stand in columns of their own
  std::vector<std::string_view> m_cells;  // of the record at hand
  std::vector<std::string> m_quotedCells;
  std::string m_converted;
  std::vector<BadCell> m_badCells;
  LastCells m_lastCells;  // for a number that is cut
  size_t m_cutLine = 0;
};

}  // namespace ash
