// SPDX-License-Identifier: GPL-3.0-or-later
// A foreign log looked at whole, to be drawn: its facts, and each column as a lane of limited size.
#pragma once

#include <string>
#include <vector>

#include "intake/foreign_log.h"

namespace ash {

/// One column from end to end in steps of equal numbers of rows: the least and the most of each step, so that no spike
/// is lost. NaN where a step has no value.
struct LaneShape {
  std::string title;  ///< as it will be kept: role, or its own name
  std::vector<double> timeS, low, high;
};

struct LogLook {
  LogFacts facts;
  std::vector<LaneShape> lanes;  ///< of the columns of numbers and states, in their order
};

/// Reads a log to its end and keeps nothing. Errors as readForeignLog().
Result<LogLook> lookAtLog(const std::string& path, const ImportWishes& wishes, const ImportProgress& progress = {});

/// A channel in the same form.
LaneShape laneOf(const std::vector<double>& timeS, const std::vector<double>& values, std::string title);

}  // namespace ash
