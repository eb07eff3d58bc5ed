// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/run_places.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "model/text.h"

namespace ash {
namespace {

namespace fs = std::filesystem;
constexpr char kEnding[] = ".ashbook";
constexpr size_t kMostBooks = 200;

bool counts(const RunSummary& run) { return run.info.outcome != Outcome::Running && run.info.outcome != Outcome::Void; }

bool holdsRun(const std::string& path, const std::string& run) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  return book && book->run(run);
}

}  // namespace

RunPlace splitRunPlace(const std::string& text) {
  const size_t mark = text.find(std::string(kEnding) + "#");
  if (mark == std::string::npos) return {{}, text};
  const size_t at = mark + sizeof kEnding - 1;
  return {text.substr(0, at), text.substr(at + 1)};
}

Result<std::vector<RunSummary>> runsNamed(const Book& book, const std::string& what) {
  const auto all = book.runs();
  if (!all) return all.error();
  std::vector<RunSummary> named;
  for (const RunSummary& run : *all) {
    if (run.info.id == what) return std::vector<RunSummary>{run};
    if (counts(run) && run.info.study + "/" + run.info.setup == what) named.push_back(run);
  }
  if (!named.empty()) return named;
  std::vector<std::string> places;
  for (const RunSummary& run : *all) {
    const std::string place = run.info.study + "/" + run.info.setup;
    if (std::find(places.begin(), places.end(), place) == places.end() && places.size() < 8) places.push_back(place);
  }
  std::string there;
  for (const std::string& place : places) there += fmt::format("{}\"{}\"", there.empty() ? "" : ", ", place);
  return Error::badInput(
      withoutControls(fmt::format("{} has no run \"{}\", and no study and setup of that name with a run that counts{}.",
                                  book.path(), what, there.empty() ? "" : "; it has " + there)));
}

Result<SetupPlace> setupNamed(const Book& book, const std::string& what) {
  const auto studies = book.studies();
  if (!studies) return studies.error();
  std::string there;
  for (const Study& study : *studies) {
    for (const Setup& setup : study.setups) {
      if (what == study.name + " / " + setup.name || what == study.name + "/" + setup.name)
        return SetupPlace{study, setup};
      if (there.size() < 400) there += fmt::format("{}\"{} / {}\"", there.empty() ? "" : ", ", study.name, setup.name);
    }
  }
  return Error::badInput(withoutControls(fmt::format("{} has no setup \"{}\"; its setups are {}.", book.path(), what,
                                                     there.empty() ? "none yet" : there)));
}

Result<std::string> findMovedBook(const std::string& said, const std::string& run, const std::string& beside) {
  std::error_code error;
  const fs::path folder = fs::path(beside).parent_path();
  const auto isIt = [&](const fs::path& path) {
    return fs::is_regular_file(path, error) && (run.empty() || holdsRun(path.string(), run));
  };
  // A path that is no whole one is told from the book's own folder, wherever the program was started.
  for (const fs::path& path : {folder / said, folder / fs::path(said).filename()}) {
    if (isIt(path)) return path.string();
  }
  size_t looked = 0;
  for (fs::directory_iterator at(folder.empty() ? fs::path(".") : folder, error), end;
       !error && at != end && looked < kMostBooks; at.increment(error)) {
    if (at->path().extension() != kEnding || fs::equivalent(at->path(), beside, error)) continue;
    ++looked;
    if (!run.empty() && isIt(at->path())) return at->path().string();
  }
  return Error::badInput(
      fmt::format("The book {} is not there with run {}, and no book beside {} holds it.", said, run, beside));
}

}  // namespace ash
