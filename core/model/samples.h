// SPDX-License-Identifier: GPL-3.0-or-later
// Samples as they are recorded (blocks per source) and as they are analysed (a log with one time axis).
#pragma once

#include <string>
#include <vector>

#include "model/problem_kind.h"
#include "model/reading.h"

namespace ash {

/// Consecutive sweeps of one source: a time column and a row of values per sweep. A missing value is NaN.
struct SampleBlock {
  int source = 0;              ///< index of the source within its run
  std::vector<double> timeS;   ///< bench seconds since the run's first sample, one per sweep
  std::vector<double> values;  ///< timeS.size() rows of columnCount values
  size_t columnCount = 0;
  size_t rowCount() const { return timeS.size(); }
  double at(size_t row, size_t column) const { return values[row * columnCount + column]; }
};

/// Something about a log that a reader must know. Also what the analysis reports.
struct Problem {
  ProblemKind kind;
  std::string channel;  ///< empty when it concerns the whole run
  double startS = kMissing;
  double endS = kMissing;
  std::string text;  ///< one sentence
};

/// One column of a log. `values` has the length of the log's time axis; NaN = no reading.
struct Channel {
  std::string name;  ///< role code, or the column's own name
  Quantity quantity = Quantity::Other;
  std::string unit;
  std::vector<double> values;
  Role role;              ///< equals name when it is a role, else empty
  double stepHint = 0.0;  ///< the sensor's step where it is known, else 0
};

/// A run's samples on one time axis, in seconds since the first sample.
struct Log {
  std::vector<double> timeS;
  std::vector<Channel> channels;
  std::vector<Problem> problems;  ///< found while reading

  /// No two samples share a time, and none goes back.
  bool risesStrictly() const {
    for (size_t i = 1; i < timeS.size(); ++i) {
      if (!(timeS[i] > timeS[i - 1])) return false;
    }
    return true;
  }
  const Channel* find(const std::string& name) const {
    for (const Channel& channel : channels) {
      if (channel.name == name) return &channel;
    }
    return nullptr;
  }
};

/// The readings of one channel without its gaps: t strictly increasing, v finite, same length.
struct Series {
  std::vector<double> t;
  std::vector<double> v;
  size_t size() const { return t.size(); }
  bool empty() const { return t.empty(); }
};

}  // namespace ash
