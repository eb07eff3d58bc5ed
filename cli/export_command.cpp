// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg export`: runs as a data package.
#include <fmt/format.h>

#include <cstdio>
#include <memory>

#include "book/book.h"
#include "cli/command.h"
#include "model/text.h"
#include "package/package.h"

namespace ash::cli {
namespace {

struct ExportArguments {
  std::string book, study, to;
  PackageWishes wishes;
  bool json = false;
};

// Those of a study that have ended.
Result<std::vector<std::string>> runsOf(const std::string& bookPath, const std::string& study) {
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  if (!book) return book.error();
  if (const auto known = book->study(study); !known) return known.error();
  const auto runs = book->runs();
  if (!runs) return runs.error();
  std::vector<std::string> ids;
  for (const RunSummary& run : *runs) {
    if (run.info.study == study && run.info.outcome != Outcome::Running) ids.push_back(run.info.id);
  }
  if (ids.empty()) return Error::badInput(fmt::format("\"{}\" has no run that has ended.", withoutControls(study)));
  return ids;
}

int carryOut(ExportArguments options) {
  if (!options.study.empty()) {
    auto runs = runsOf(options.book, options.study);
    if (!runs) return fail(runs.error());
    options.wishes.runs = std::move(*runs);
    if (options.wishes.title.empty()) options.wishes.title = options.study;
  }
  if (options.wishes.runs.empty()) return fail(Error::badInput("Name the runs to export, or a --study."));
  if (Status written = writePackage(options.book, options.wishes, options.to); !written) return fail(written.error());
  if (options.json)
    printJson({{"contract", 1}, {"to", options.to}, {"runs", options.wishes.runs}});
  else
    std::puts(fmt::format("{} holds {} run{}; datapackage.json says what is in it.", options.to,
                          options.wishes.runs.size(), options.wishes.runs.size() == 1 ? "" : "s")
                  .c_str());
  return kDone;
}

}  // namespace

void addExportCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("export", "Write runs as a data package that a stranger can use");
  auto options = std::make_shared<ExportArguments>();
  auto* runs = command->add_option("run", options->wishes.runs, "Runs, by their ids");
  command->add_option("--study", options->study, "All runs of a study that have ended")->excludes(runs);
  command->add_option("--book", options->book, "The book")->required();
  command->add_option("--to", options->to, "The folder or the .zip file; it is made")->required();
  command->add_option("--license", options->wishes.license, "Under which it may be used, e.g. CC-BY-4.0");
  command->add_option("--title", options->wishes.title, "What it is called (the study)");
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOut(*options); }; });
}

}  // namespace ash::cli
