// SPDX-License-Identifier: GPL-3.0-or-later
// What a shell offers: the commands and options that can follow what is typed already.
#include <cstdio>
#include <memory>

#include "cli/command.h"

namespace ash::cli {
namespace {

// The command that the words lead to; options and their values are passed over.
const CLI::App* commandOf(const CLI::App& app, const std::vector<std::string>& words) {
  const CLI::App* at = &app;
  for (const std::string& word : words) {
    for (const CLI::App* next : at->get_subcommands([](const CLI::App*) { return true; })) {
      if (!next->get_name().empty() && next->get_name() == word) {
        at = next;
        break;
      }
    }
  }
  return at;
}

int printWords(const CLI::App& app, const std::vector<std::string>& words) {
  const CLI::App* at = commandOf(app, words);
  for (const CLI::App* command : at->get_subcommands([](const CLI::App*) { return true; })) {
    // A hidden one has no group.
    if (!command->get_group().empty() && !command->get_name().empty()) std::puts(command->get_name().c_str());
  }
  for (const CLI::Option* option : at->get_options()) {
    for (const std::string& name : option->get_lnames()) std::puts(("--" + name).c_str());
  }
  return kDone;
}

}  // namespace

void addCompletionCommand(CLI::App& app, Action& action) {
  auto words = std::make_shared<std::vector<std::string>>();
  CLI::App* command = app.add_subcommand("completion-words", "What can follow these words, for a shell");
  command->group("");
  command->add_option("words", *words, "What is typed already, after --");
  command->callback([&app, &action, words] { action = [&app, words] { return printWords(app, *words); }; });
}

}  // namespace ash::cli
