// SPDX-License-Identifier: GPL-3.0-or-later
// A log's text read as `ashg import` reads it, and what came of it.
#pragma once

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "intake/foreign_log.h"
#include "tests/support/temp_folder.h"

namespace ash::tests {

/// Keeps what it is given.
class Kept : public LogSink {
 public:
  Status begin(const LogFacts&, const std::vector<PlannedColumn>& columns) override {
    for (const PlannedColumn& column : columns) names.push_back(column.title());
    return {};
  }
  Status row(double timeS, const std::vector<double>& values) override {
    times.push_back(timeS);
    rows.push_back(values);
    return {};
  }
  Status event(const Event& event) override {
    events.push_back(std::to_string(static_cast<int>(event.atS)) + " " + event.text);
    return {};
  }
  std::vector<std::string> names, events;
  std::vector<double> times;
  std::vector<std::vector<double>> rows;
};

struct Read {
  LogFacts facts;
  Kept kept;
  std::string refusal;
};

inline Read readText(const std::string& text, const ImportWishes& wishes = {}) {
  const TempFolder folder;
  Read read;
  auto facts = readForeignLog(folder.write("log.csv", text), wishes, &read.kept);
  if (facts)
    read.facts = std::move(*facts);
  else
    read.refusal = facts.error().message;
  return read;
}

inline const ColumnFacts& columnOf(const Read& read, const std::string& name) {
  for (const ColumnFacts& one : read.facts.columns) {
    if (one.column.name == name) return one;
  }
  FAIL("no column " << name);
  throw 0;
}

inline std::string roleOf(const Read& read, const std::string& name) { return columnOf(read, name).column.role.text(); }

inline bool hasProblem(const Read& read, ProblemKind::Known kind) {
  return std::any_of(read.facts.problems.begin(), read.facts.problems.end(),
                     [&](const Problem& problem) { return problem.kind == kind; });
}

}  // namespace ash::tests
