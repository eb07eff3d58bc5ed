// SPDX-License-Identifier: GPL-3.0-or-later
// A foreign log, read in one go in pieces: what it is taken for, and its rows for whoever wants them.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "intake/log_facts.h"
#include "model/run_facts.h"

namespace ash {

/// Takes what is read, in order.
class LogSink {
 public:
  virtual ~LogSink() = default;
  /// Once, before the first row: the columns of numbers and states, in the order of the rows' values.
  virtual Status begin(const LogFacts& facts, const std::vector<PlannedColumn>& columns) = 0;
  virtual Status row(double timeS, const std::vector<double>& values) = 0;
  virtual Status event(const Event& event) = 0;
};

/// Told now and then with the share of the file that is read; false ends the reading.
using ImportProgress = std::function<bool(double share)>;
/// What is told where it was given up.
Error givenUp();

/// Reads a log to its end; bounded in memory whatever its size. Without a sink it is only looked at. The error says
/// that there is no log in it, what is missing, or that it was given up.
Result<LogFacts> readForeignLog(const std::string& path, const ImportWishes& wishes, LogSink* sink,
                                const ImportProgress& progress = {});

}  // namespace ash
