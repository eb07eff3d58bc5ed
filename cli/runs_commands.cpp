// SPDX-License-Identifier: GPL-3.0-or-later
// Recordings that go on now: list them, stop one, write a note into one.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <cstdio>
#include <memory>

#include "cli/command.h"
#include "runner/message_type.h"
#include "runner/run_client.h"

namespace ash::cli {
namespace {

int list(bool json) {
  const auto runs = listRuns();
  if (!runs) return fail(runs.error());
  Json all = Json::array();
  for (const Json& hello : *runs) {
    if (!json) {
      std::puts(fmt::format("{}  {} / {} / {}  since {}  {}", valueIn(hello, "run", ""), valueIn(hello, "study", ""),
                            valueIn(hello, "setup", ""), valueIn(hello, "load", ""), valueIn(hello, "started", ""),
                            valueIn(hello, "book", ""))
                    .c_str());
    }
    Json brief = Json::object();
    for (const char* key : {"run", "book", "study", "setup", "load", "repeat", "started", "procedure"})
      brief[key] = hello.value(key, Json());
    all.push_back(brief);
  }
  if (json)
    printJson({{"contract", 1}, {"runs", all}});
  else if (runs->empty())
    std::fputs("No recording is going on.\n", stderr);
  return kDone;
}

std::string joined(const std::vector<std::string>& words) { return fmt::format("{}", fmt::join(words, " ")); }

int ask(const std::string& run, const Json& wish) {
  const auto answer = askRun(run, wish);
  if (!answer) return fail(answer.error());
  if (valueIn(*answer, "ok", false)) return kDone;
  return fail(Error::badInput(valueIn(*answer, "why", "The recording refused.")));
}

}  // namespace

void addRunsCommands(CLI::App& app, Action& action) {
  CLI::App* runs = app.add_subcommand("runs", "List the recordings that go on now");
  auto json = std::make_shared<bool>(false);
  runs->add_flag("--json", *json, "One JSON document");
  runs->callback([json, &action] { action = [json] { return list(*json); }; });

  CLI::App* stop = app.add_subcommand("stop", "End a recording; its load goes off at once");
  auto run = std::make_shared<std::string>();
  stop->add_option("run", *run, "The run's id")->required();
  stop->callback([run, &action] { action = [run] { return ask(*run, {{"do", WishKind(WishKind::Stop).text()}}); }; });

  CLI::App* note = app.add_subcommand("note", "Write a note into a recording");
  auto text = std::make_shared<std::vector<std::string>>();
  note->add_option("run", *run, "The run's id")->required();
  note->add_option("text", *text, "What to write")->required();
  note->callback([run, text, &action] {
    action = [run, text] { return ask(*run, {{"do", WishKind(WishKind::Note).text()}, {"text", joined(*text)}}); };
  });

  CLI::App* answer = app.add_subcommand("answer", "Go on after a pause of a recording");
  answer->add_option("run", *run, "The run's id")->required();
  answer->add_option("words", *text, "What was found: a reading such as \"noise 38.5\", or a note");
  answer->callback([run, text, &action] {
    action = [run, text] { return ask(*run, {{"do", WishKind(WishKind::Answer).text()}, {"text", joined(*text)}}); };
  });
}

}  // namespace ash::cli
