// SPDX-License-Identifier: GPL-3.0-or-later
#include <cstdio>
#include <memory>

#include "analysis/figures_json.h"
#include "cli/command.h"
#include "cli/figures_text.h"
#include "cli/run_sources.h"

namespace ash::cli {
namespace {

struct Options {
  std::string run, book;
  bool json = false;
};

int run(const Options& options) {
  const auto found = findRun(options.run, options.book);
  if (!found) return fail(found.error());
  const Figures figures = analyzeRun(*found);
  if (options.json)
    printJson(figuresToJson(figures));
  else
    std::fputs(figuresText(*found, figures).c_str(), stdout);
  return kDone;
}

}  // namespace

void addAnalyzeCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("analyze", "Work the figures of a run out");
  auto options = std::make_shared<Options>();
  command->add_option("run", options->run, "A CSV file, or a run's id with --book")->required();
  command->add_option("--book", options->book, "The book that holds the run");
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return run(*options); }; });
}

}  // namespace ash::cli
