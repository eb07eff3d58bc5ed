// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/run_sources.h"
#include "analysis/analyze.h"

#include <fmt/format.h>

#include <filesystem>
#include <set>

#include "book/book.h"
#include "exchange/csv_read.h"

namespace ash::cli {

Result<RunLog> findRun(const std::string& name, const std::string& bookPath) {
  std::error_code error;
  if (!bookPath.empty()) {
    auto book = Book::open(bookPath, BookAccess::ReadOnly);
    if (!book) return book.error();
    if (!std::filesystem::is_regular_file(name, error)) return book->readRun(name);
  }
  if (std::filesystem::exists(name, error)) return readRunFiles(name);
  if (std::filesystem::exists(name + ".csv", error)) return readRunFiles(name + ".csv");
  return Error::badInput(
      fmt::format("There is no file {}; give a CSV file, or a run's id together with --book.", name));
}

Result<std::vector<AnalyzedRun>> findRuns(const std::vector<std::string>& names, const std::string& bookPath) {
  std::vector<AnalyzedRun> runs;
  std::set<std::string> taken;
  for (const std::string& name : names) {
    // The same run twice is no repeat: it would make the scatter look smaller than it is.
    std::error_code error;
    const auto resolved = std::filesystem::weakly_canonical(name.ends_with(".csv") ? name : name + ".csv", error);
    if (!taken.insert(resolved.string()).second) {
      return Error::badInput(fmt::format("{} is named twice; a run is no repeat of itself, so name it once.", name));
    }
    auto run = findRun(name, bookPath);
    if (!run) return run.error();
    AnalyzedRun analyzed{std::move(*run), {}};
    analyzed.figures = analyzeRun(analyzed.run);
    runs.push_back(std::move(analyzed));
  }
  return runs;
}

}  // namespace ash::cli
