// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg`: Ash Gauge without a window.
#include <algorithm>
#include <cstdio>
#include <string_view>
#include <vector>

#include "analysis/run/figures.h"
#include "book/book_format.h"
#include "cli/command.h"
#include "system/descriptors.h"

namespace ash::cli {

int fail(const Error& error) {
  std::fprintf(stderr, "ashg: %s\n", error.message.c_str());
  return error.kind == ErrorKind::BadInput ? kWrongUse : kEnvironment;
}

void printJson(const Json& document) {
  std::puts(document.dump(2, ' ', false, Json::error_handler_t::replace).c_str());
}

}  // namespace ash::cli

namespace {

// `--version --json`: what a bug report and another program need.
bool asksForVersionJson(int argc, char** argv) {
  const std::vector<std::string_view> words(argv + 1, argv + argc);
  return words.size() == 2 && std::find(words.begin(), words.end(), "--version") != words.end() &&
         std::find(words.begin(), words.end(), "--json") != words.end();
}

int printVersion() {
  ash::cli::printJson({{"program", "ashg"},
                       {"version", ASH_VERSION},
                       {"figures_method", ash::kFiguresMethod},
                       {"book_format", ash::kBookFormat},
                       {"licence", "GPL-3.0-or-later"},
                       {"compiler", __VERSION__}});
  return ash::cli::kDone;
}

}  // namespace

int main(int argc, char** argv) {
  using namespace ash::cli;
  ash::raiseDescriptorLimit();
  if (asksForVersionJson(argc, argv)) return printVersion();
  CLI::App app("Ash Gauge: put it under load, log it, change one thing, compare.", "ashg");
  app.set_version_flag("--version", "ashg " ASH_VERSION);
  app.require_subcommand(1);
  Action action;
  addReadingsCommand(app, action);
  addInstrumentsCommand(app, action);
  addSampleCommand(app, action);
  addLoadCommand(app, action);
  addRunCommand(app, action);
  addQueueCommand(app, action);
  addRunsCommands(app, action);
  addServeCommand(app, action);
  addStandInCommand(app, action);
  addBookCommand(app, action);
  addAnalyzeCommand(app, action);
  addCompareCommand(app, action);
  addReportCommand(app, action);
  addStatedCommand(app, action);
  addProcedureCommand(app, action);
  addKnobCommands(app, action);
  addLadderCommand(app, action);
  addAttachCommand(app, action);
  addImportCommand(app, action);
  addExportCommand(app, action);
  addDemoCommand(app, action);
  addCompletionCommand(app, action);
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    if (error.get_exit_code() == 0) return app.exit(error);
    std::fprintf(stderr, "ashg: %s (see --help)\n", error.what());
    return kWrongUse;
  }
  return action ? action() : kWrongUse;
}
