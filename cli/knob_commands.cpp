// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg knobs`, `set`, `restore`: what can be turned on a machine, turned, and put back.
#include <fmt/format.h>

#include <cstdio>
#include <memory>

#include "cli/command.h"
#include "helper/hands.h"
#include "runner/sim_knobs.h"
#include "sim/bench_spec.h"

namespace ash::cli {
namespace {

struct KnobArguments {
  std::string root, sim, knob, value;
  bool json = false;
};

std::string rangeWords(const Knob& knob) {
  if (!knob.isNumber()) {
    std::string words;
    for (const KnobChoice& one : knob.choices) words += (words.empty() ? "" : ", ") + one.word;
    return words;
  }
  if (!knob.least && !knob.most) return "its range is not told";
  return fmt::format("{} to {} {}", knob.least ? knobNumber(*knob.least) : "0",
                     knob.most ? knobNumber(*knob.most) : "?", knob.unit);
}

int list(const KnobArguments& options) {
  std::vector<Knob> knobs;
  if (options.sim.empty()) {
    knobs = knobsHere(options.root);
  } else {
    auto spec = sim::loadBench(options.sim, "");
    if (!spec) return fail(spec.error());
    knobs = knobsOf(sim::Bench(std::move(*spec), 1));
  }
  if (options.json) {
    Json all = Json::array();
    for (const Knob& knob : knobs) all.push_back(knobToJson(knob));
    printJson({{"contract", 1}, {"knobs", all}});
    return kDone;
  }
  for (const Knob& knob : knobs)
    std::puts(fmt::format("{:<24} {:<14} {:<32} {}", knob.id, valueWords(knob), rangeWords(knob),
                          knob.isTurnable() ? knob.name : knob.name + ". " + knob.whyNot)
                  .c_str());
  if (knobs.empty()) std::fputs("Nothing can be turned here: the kernel offers no limit, clock or fan.\n", stderr);
  return kDone;
}

int set(const KnobArguments& options) {
  auto hand = openHand(options.root, TurnedBy::Hand);
  if (!hand) return fail(hand.error());
  const auto turned = (*hand)->turn(options.knob, options.value, [&] { return nearestToLimit(options.root); });
  if (!turned) return fail(turned.error());
  if (options.json)
    printJson({{"contract", 1},
               {"knob", turned->knob},
               {"unit", turned->unit},
               {"asked", turned->asked},
               {"read_back", turned->readBack},
               {"as_asked", turned->isAsAsked}});
  else
    std::puts((turnedWords(*turned) + "; `ashg restore` puts it back").c_str());
  return turned->isAsAsked ? kDone : kAnswerIsNo;
}

int restore(const KnobArguments& options) {
  const auto back = putAllBack(options.root);
  if (!back) return fail(back.error());
  if (options.json) printJson({{"contract", 1}, {"restored", back->files}, {"problems", back->troubles}});
  for (const std::string& trouble : back->troubles) std::fputs((trouble + "\n").c_str(), stderr);
  if (!options.json && back->troubles.empty())
    std::puts(back->files == 0 ? "Nothing was turned." : "All is as it was before it was turned.");
  return back->troubles.empty() ? kDone : kAnswerIsNo;
}

}  // namespace

void addKnobCommands(CLI::App& app, Action& action) {
  auto options = std::make_shared<KnobArguments>();
  const auto add = [&](const char* name, const char* what, int (*carryOut)(const KnobArguments&)) {
    CLI::App* command = app.add_subcommand(name, what);
    command->add_option("--root", options->root, "A tree that looks like a machine's root")
        ->check(CLI::ExistingDirectory);
    command->add_flag("--json", options->json, "One JSON document");
    command->callback([options, carryOut, &action] { action = [options, carryOut] { return carryOut(*options); }; });
    return command;
  };
  CLI::App* one = add("knobs", "List what can be turned: limits of power and clock, governors, fans", list);
  one->add_option("--sim", options->sim, "Of a simulated bench: one that ships or a JSON file");
  one = add("set", "Turn a knob and read back what came of it", set);
  one->add_option("knob", options->knob, "Its id; `ashg knobs` lists them")->required();
  one->add_option("value", options->value, "A number in its unit, or one of its words")->required();
  add("restore", "Put everything back that was turned here", restore);
}

}  // namespace ash::cli
