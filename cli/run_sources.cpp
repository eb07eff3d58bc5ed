// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/run_sources.h"

#include <fmt/format.h>

#include <filesystem>
#include <map>
#include <set>

#include "analysis/analyze.h"
#include "book/book.h"
#include "book/run_places.h"
#include "exchange/csv_read.h"

namespace ash::cli {
namespace {

/// A run and where it came from.
struct FoundRun {
  RunLog run;
  std::string book, study;
};

bool isFile(const std::string& path) {
  std::error_code error;
  return std::filesystem::is_regular_file(path, error);
}

Result<std::vector<FoundRun>> inBook(const std::string& path, const std::string& what) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  if (!book) return book.error();
  const auto named = runsNamed(*book, what);
  if (!named) return named.error();
  std::vector<FoundRun> found;
  for (const RunSummary& summary : *named) {
    auto run = book->readRun(summary.info.id);
    if (!run) return run.error();
    found.push_back({std::move(*run), path, summary.info.study});
  }
  return found;
}

Result<std::vector<FoundRun>> inFile(const std::string& path) {
  auto run = readRunFiles(path);
  if (!run) return run.error();
  std::vector<FoundRun> found;
  found.push_back({std::move(*run), {}, {}});
  return found;
}

Result<std::vector<FoundRun>> find(const std::string& name, const std::string& bookPath) {
  if (const RunPlace place = splitRunPlace(name); !place.book.empty()) return inBook(place.book, place.what);
  if (!bookPath.empty() && !isFile(name)) return inBook(bookPath, name);
  std::error_code error;
  if (std::filesystem::exists(name, error)) return inFile(name);
  if (std::filesystem::exists(name + ".csv", error)) return inFile(name + ".csv");
  return Error::badInput(
      fmt::format("There is no file {}; give a CSV file, a run's id or STUDY/SETUP together with --book, or "
                  "OTHER.ashbook#RUN.",
                  name));
}

// Setups of one name that are two, and runs of one id, are told apart by where they stand.
void tellApart(std::vector<FoundRun>& all) {
  std::map<std::string, std::set<std::string>> placesOfSetup, booksOfRun;
  for (const FoundRun& one : all) {
    placesOfSetup[one.run.facts.setup].insert(one.book + "#" + one.study);
    booksOfRun[one.run.name].insert(one.book);
  }
  for (FoundRun& one : all) {
    const std::string stem = std::filesystem::path(one.book).stem().string();
    if (booksOfRun[one.run.name].size() > 1 && !one.book.empty()) one.run.name = stem + "#" + one.run.name;
    const auto& places = placesOfSetup[one.run.facts.setup];
    if (places.size() < 2 || one.book.empty()) continue;
    std::set<std::string> studies;
    for (const std::string& place : places) studies.insert(place.substr(place.find('#') + 1));
    one.run.facts.setup +=
        studies.size() == places.size() ? fmt::format(" of {}", one.study) : fmt::format(" of {}, {}", one.study, stem);
  }
}

}  // namespace

Result<RunLog> findRun(const std::string& name, const std::string& bookPath) {
  auto found = find(name, bookPath);
  if (!found) return found.error();
  if (found->size() > 1)
    return Error::badInput(fmt::format("{} has {} runs; name one by its id, or compare them.", name, found->size()));
  return std::move(found->front().run);
}

Result<std::vector<AnalyzedRun>> findRuns(const std::vector<std::string>& names, const std::string& bookPath) {
  std::vector<FoundRun> all;
  std::set<std::string> taken;
  for (const std::string& name : names) {
    auto found = find(name, bookPath);
    if (!found) return found.error();
    for (FoundRun& one : *found) {
      // The same run twice is no repeat: it would make the scatter look smaller than it is.
      std::error_code error;
      const std::string file = one.book.empty() ? (name.ends_with(".csv") ? name : name + ".csv") : one.book;
      const std::string place =
          std::filesystem::weakly_canonical(file, error).string() + "#" + (one.book.empty() ? "" : one.run.name);
      if (!taken.insert(place).second)
        return Error::badInput(fmt::format("{} is named twice; a run is no repeat of itself, so name it once.", name));
      all.push_back(std::move(one));
    }
  }
  tellApart(all);
  std::vector<AnalyzedRun> runs;
  for (FoundRun& one : all) {
    AnalyzedRun analyzed{std::move(one.run), {}};
    analyzed.figures = analyzeRun(analyzed.run);
    runs.push_back(std::move(analyzed));
  }
  return runs;
}

}  // namespace ash::cli
