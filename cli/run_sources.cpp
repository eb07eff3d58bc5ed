// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/run_sources.h"

#include <fmt/format.h>

#include <filesystem>

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
  for (const std::string& name : names) {
    auto run = findRun(name, bookPath);
    if (!run) return run.error();
    AnalyzedRun analyzed{std::move(*run), {}};
    analyzed.figures = analyzeRun(analyzed.run);
    runs.push_back(std::move(analyzed));
  }
  return runs;
}

}  // namespace ash::cli
