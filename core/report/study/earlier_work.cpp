// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/study/earlier_work.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "analysis/analyze.h"
#include "book/run_places.h"

namespace ash {
namespace {

Result<std::vector<std::shared_ptr<const AnalyzedRun>>> readRuns(const Book& book, const AlsoShown& what,
                                                                 const std::string& label) {
  const auto named = runsNamed(book, what.study + "/" + what.setup);
  if (!named) return named.error();
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  for (const RunSummary& summary : *named) {
    auto run = book.readRun(summary.info.id);
    if (!run) return run.error();
    auto analyzed = std::make_shared<AnalyzedRun>(AnalyzedRun{std::move(*run), {}});
    // A setup of the same name may stand in the study itself, and a copied book has runs of the same ids.
    analyzed->run.facts.setup = label;
    if (!what.book.empty()) analyzed->run.name = what.book + "#" + analyzed->run.name;
    analyzed->figures = analyzeRun(analyzed->run);
    runs.push_back(std::move(analyzed));
  }
  return runs;
}

int weightOf(const ComparisonCheck& check) {
  return check.severity == Severity::Block ? 0 : check.severity == Severity::Warn ? 1 : 2;
}

}  // namespace

bool EarlierRow::isLikeForLike() const {
  return std::all_of(checks.begin(), checks.end(),
                     [](const ComparisonCheck& check) { return check.severity == Severity::Info; });
}

std::string labelOf(const AlsoShown& what) {
  const std::string label = fmt::format("{} of {}", what.setup, what.study);
  return what.book.empty() ? label : fmt::format("{}, {}", label, std::filesystem::path(what.book).stem().string());
}

EarlierSetup readEarlier(const Book& book, const AlsoShown& what) {
  EarlierSetup setup{what, labelOf(what), {}, {}};
  const auto take = [&](Result<std::vector<std::shared_ptr<const AnalyzedRun>>> runs) {
    if (runs)
      setup.runs = std::move(*runs);
    else
      setup.problem = runs.error().message;
  };
  if (what.book.empty()) {
    take(readRuns(book, what, setup.label));
    return setup;
  }
  const auto path = findMovedBook(what.book, what.run, book.path());
  if (!path) {
    setup.problem = path.error().message;
    return setup;
  }
  const auto other = Book::open(*path, BookAccess::ReadOnly);
  if (other)
    take(readRuns(*other, what, setup.label));
  else
    setup.problem = other.error().message;
  return setup;
}

std::vector<EarlierRow> earlierRows(const std::vector<EarlierSetup>& earlier, const std::string& load,
                                    const std::vector<const AnalyzedRun*>& reference, const CompareOptions& options) {
  std::vector<EarlierRow> rows;
  for (const EarlierSetup& setup : earlier) {
    std::vector<const AnalyzedRun*> runs = reference;
    for (const auto& run : setup.runs) {
      if (run->run.facts.load == load) runs.push_back(run.get());
    }
    if (runs.size() == reference.size() || reference.empty()) continue;
    CompareOptions alone = options;
    alone.reference = reference.front()->run.name;
    alone.equal = {};
    const auto comparison = compareRuns(runs, alone);
    if (!comparison) continue;
    const auto row = std::find_if(comparison->rows.begin(), comparison->rows.end(),
                                  [&](const ComparisonRow& one) { return one.setup == setup.label; });
    if (row == comparison->rows.end()) continue;
    EarlierRow found{setup.what, setup.label, *row, comparison->checks};
    std::stable_sort(found.checks.begin(), found.checks.end(),
                     [](const ComparisonCheck& a, const ComparisonCheck& b) { return weightOf(a) < weightOf(b); });
    rows.push_back(std::move(found));
  }
  return rows;
}

}  // namespace ash
