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
  ProjectionQuestion projection;
  bool json = false;
};

int run(const Options& options) {
  const auto found = findRun(options.run, options.book);
  if (!found) return fail(found.error());
  const Figures figures = analyzeRun(*found);
  const bool isProjected = options.projection.roomC || options.projection.powerW;
  const auto projections = isProjected ? projectRun(*found, figures, options.projection) : std::vector<Projection>();
  if (options.json) {
    Json all = figuresToJson(figures);
    if (isProjected) all["projection"] = projectionsToJson(projections);
    printJson(all);
    return kDone;
  }
  std::fputs(figuresText(*found, figures).c_str(), stdout);
  for (const Projection& projection : projections) std::fputs(projectionText(projection).c_str(), stdout);
  if (isProjected && projections.empty())
    std::fputs("Nothing can be projected: it takes a load, its power, its temperature and the room.\n", stdout);
  return kDone;
}

}  // namespace

void addAnalyzeCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("analyze", "Work the figures of a run out");
  auto options = std::make_shared<Options>();
  command->add_option("run", options->run, "A CSV file, or a run's id with --book")->required();
  command->add_option("--book", options->book, "The book that holds the run");
  command->add_option("--room", options->projection.roomC, "Project the run to a room of this temperature (°C)")
      ->check(CLI::Range(-60.0, 120.0));
  command->add_option("--power", options->projection.powerW, "Project the run to this power of the device (W)")
      ->check(CLI::Range(0.0, 1e5));
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return run(*options); }; });
}

}  // namespace ash::cli
