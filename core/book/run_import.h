// SPDX-License-Identifier: GPL-3.0-or-later
// A run that was recorded elsewhere, taken into the book as a whole or not at all.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "book/book.h"
#include "model/samples.h"

namespace ash {

/// One transaction from begin() to finish(): a process that is killed meanwhile leaves nothing in the book. Others can
/// read the book while it lasts, and not write it.
class RunImport {
 public:
  /// Finds or makes study, setup and load of `info`, and its row. `info.id` and `info.repeat` are set.
  static Result<RunImport> begin(const std::string& bookPath, RunInfo& info, const std::vector<SourceInfo>& sources);
  RunImport(RunImport&&) noexcept;
  RunImport& operator=(RunImport&&) noexcept;
  /// Without finish() everything is taken back.
  ~RunImport();

  Status addSweep(int source, double timeS, const std::vector<double>& values);
  Status addEvent(const Event& event);
  /// Writes when it began, as its end has told, the time between its samples and how it ended, and keeps it. No two
  /// samples of a source may lie within a quarter of the interval: they would be read as one moment.
  Status finish(const std::string& started, double intervalS, Outcome outcome);

 private:
  struct State;
  explicit RunImport(std::unique_ptr<State> state);
  Status flush(size_t source);
  std::unique_ptr<State> m_state;
};

}  // namespace ash
