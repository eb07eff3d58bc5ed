// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg report`: one HTML page of a study.
#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "book/book.h"
#include "cli/command.h"
#include "exchange/csv_write.h"
#include "report/study_report.h"

namespace ash::cli {
namespace {

struct Options {
  std::string study, book, folder, format = "html", reference;
};

Result<StudyReport> gather(const Options& options) {
  const auto book = Book::open(options.book, BookAccess::ReadOnly);
  if (!book) return book.error();
  const auto studies = book->studies();
  if (!studies) return studies.error();
  const auto study =
      std::find_if(studies->begin(), studies->end(), [&](const Study& s) { return s.name == options.study; });
  if (study == studies->end()) {
    return Error::badInput(fmt::format("There is no study \"{}\" in {}; `ashg book info {}` lists them.", options.study,
                                       options.book, options.book));
  }
  StudyReport report;
  report.study = *study;
  const auto runs = book->runs();
  if (!runs) return runs.error();
  for (const RunSummary& summary : *runs) {
    if (summary.info.study != options.study || summary.info.outcome == Outcome::Running) continue;
    auto run = book->readRun(summary.info.id);
    if (!run) return run.error();
    AnalyzedRun analyzed{std::move(*run), {}};
    analyzed.figures = analyzeRun(analyzed.run);
    report.runs.push_back(std::move(analyzed));
    report.summaries.push_back(summary);
  }
  if (report.runs.empty())
    return Error::badInput(fmt::format("The study \"{}\" has no finished run to report.", options.study));
  CompareOptions compare;
  compare.reference = options.reference;
  auto comparison = compareRuns(report.runs, compare);
  if (!comparison) return comparison.error();
  report.comparison = std::move(*comparison);
  return report;
}

// A file name out of a study's name: letters, digits and dashes.
std::string fileName(const std::string& study) {
  std::string name;
  for (const char c : study) {
    if (std::isalnum(static_cast<unsigned char>(c)) != 0)
      name += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    else if (!name.empty() && name.back() != '-')
      name += '-';
  }
  while (name.ends_with('-')) name.pop_back();
  return name.empty() ? "report" : name;
}

int run(const Options& options) {
  const auto report = gather(options);
  if (!report) return fail(report.error());
  std::error_code error;
  std::filesystem::create_directories(options.folder, error);
  if (error) return fail(Error::io("make the folder", options.folder, error.value()));
  const std::string path = options.folder + "/" + fileName(options.study) + ".html";
  if (Status written = writeWholeFile(htmlPage(*report), path); !written) return fail(written.error());
  std::puts(path.c_str());
  return kDone;
}

}  // namespace

void addReportCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("report", "Write a study up as one HTML page; prints its path");
  auto options = std::make_shared<Options>();
  command->add_option("study", options->study, "The study's name")->required();
  command->add_option("--book", options->book, "The book")->required();
  command->add_option("--to", options->folder, "Folder for the page; made when missing")->required();
  command->add_option("--format", options->format, "html")->check(CLI::IsMember({"html"}))->capture_default_str();
  command->add_option("--reference", options->reference,
                      "Run that the others are held against; the first when not given");
  command->callback([options, &action] { action = [options] { return run(*options); }; });
}

}  // namespace ash::cli
