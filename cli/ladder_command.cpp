// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg ladder`: turns one knob step by step until it no longer holds, each step a recorder of its own.
#include <fmt/format.h>
#include <unistd.h>

#include <atomic>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "cli/command.h"
#include "cli/instruments_option.h"
#include "cli/recorder_child.h"
#include "cli/signals.h"
#include "cli/speaker.h"
#include "desktop/desktop_link.h"
#include "knobs/find_knobs.h"
#include "ladder/answer.h"
#include "ladder/climb.h"
#include "ladder/ladder_knob.h"
#include "ladder/questions.h"
#include "ladder/search.h"
#include "model/text.h"
#include "system/confirmed.h"

namespace ash::cli {
namespace {

struct LadderArguments {
  std::string book, root, sim, instruments, search = "steps", hold = "settled 5min..20min", rest = "1min", confirm;
  std::vector<std::string> until;
  LadderAsk ask;
  double speed = 1;
  uint64_t seed = 1;
  std::string question;
  std::optional<double> from, to, step, wanted;
  bool isResumed = false, json = false;
  bool asPlanned =
      false;  // names of loads, and a ladder that goes on, come from the book and not from a person's hands
};

Result<Phase> onePhase(const char* option, const std::string& text) {
  const auto procedure = parsePhases(text);
  if (!procedure) return Error::badInput(fmt::format("{}: {}", option, procedure.error().message));
  if (procedure->phases.size() != 1) return Error::badInput(fmt::format("{} takes one phase's end.", option));
  return procedure->phases.front();
}

Json benchOf(const LadderArguments& options) {
  if (!options.sim.empty()) return {{"sim", options.sim}, {"seed", options.seed}};
  return options.root.empty() ? Json::object()
                              : Json{{"root", std::filesystem::weakly_canonical(options.root).string()}};
}

// What a ready question says, where nothing else was said.
Status fillInQuestion(const LadderArguments& options, const std::string& book, LadderAsk& ask) {
  if (options.question.empty()) return {};
  const LadderQuestion* question = findQuestion(options.question);
  if (question == nullptr) {
    std::string all;
    for (const LadderQuestion& one : ladderQuestions()) all += fmt::format("{}{}", all.empty() ? "" : ", ", one.id);
    return Error::badInput(fmt::format("--question: there is no \"{}\"; there are {}.", options.question, all));
  }
  LadderAsk filled = ask;
  auto knobs = knobsFor(book, ask);
  if (!knobs) return knobs.error();
  // A knob that is named is taken instead of the question's.
  std::erase_if(*knobs, [&](const Knob& one) { return !ask.knob.empty() && one.id != ask.knob; });
  if (Status done = fillIn(*question, *knobs, options.wanted, filled); !done) return done;
  if (!ask.until.empty()) filled.until = ask.until;
  ask = std::move(filled);
  return {};
}

Result<LadderAsk> askOf(const LadderArguments& options, const std::string& book) {
  LadderAsk ask = options.ask;
  ask.search = options.search == "halving" ? LadderSearch::Halving : LadderSearch::Steps;
  for (const std::string& text : options.until) {
    auto rule = parseLadderRule(text);
    if (!rule) return rule.error();
    ask.until.push_back(std::move(*rule));
  }
  auto hold = onePhase("--hold", "soak " + options.hold);
  if (!hold) return hold.error();
  auto rest = onePhase("--rest", (options.rest.starts_with("below") ? "cool " : "idle ") + options.rest);
  if (!rest) return rest.error();
  ask.hold = *hold;
  ask.rest = *rest;
  if (!options.confirm.empty()) {
    const auto seconds = parseDurationS(options.confirm);
    if (!seconds) return Error::badInput("--confirm needs a time with its unit, such as 30min.");
    ask.confirmS = *seconds;
  }
  ask.bench = benchOf(options);
  if (Status filled = fillInQuestion(options, book, ask); !filled) return filled.error();
  ask.from = options.from.value_or(ask.from);
  ask.to = options.to.value_or(ask.to);
  ask.step = options.step.value_or(ask.step);
  if (Status checked = checkAsk(ask); !checked) return checked.error();
  return ask;
}

std::vector<std::string> runArguments(const LadderArguments& options, const LadderRun& run) {
  // With "=", so that a name that begins with "-" stays a value.
  std::vector<std::string> arguments = {thisProgram(),
                                        "run",
                                        "--book=" + options.book,
                                        "--study=" + options.ask.study,
                                        "--setup=" + run.setup,
                                        "--load=" + run.load,
                                        "--run-id=" + run.runId,
                                        "--phases=" + run.phases,
                                        "--brief"};
  if (options.asPlanned) arguments.emplace_back("--as-planned");
  for (const std::string& rule : run.rules) arguments.push_back("--stop-rule=" + rule);
  if (!options.sim.empty()) {
    arguments.push_back("--sim=" + options.sim);
    arguments.push_back(fmt::format("--speed={}", options.speed));
    arguments.push_back(fmt::format("--seed={}", options.seed + run.number));
  } else if (!options.root.empty()) {
    arguments.push_back("--root=" + options.root);
  }
  if (!options.instruments.empty()) arguments.push_back("--instruments=" + options.instruments);
  return arguments;
}

// "Step at 65 W (run …)", then what became of it.
std::string tellingOf(const Ladder& ladder) {
  if (ladder.steps.empty()) return {};
  const LadderStep& step = ladder.steps.back();
  const std::string value = valueWords(ladder.ask, ladder.ask.valueAt(step.index));
  const char* what = step.isConfirming ? "Confirming" : "Step at";
  if (step.held) {
    return fmt::format("{} {}: {}.{}{}\n", what, value, *step.held ? "held" : "not held", step.why.empty() ? "" : " ",
                       step.why);
  }
  const StepsLeft left = stepsLeft(ladder);
  const std::string runs =
      left.least == left.most ? fmt::format("{}", left.most) : fmt::format("{} to {}", left.least, left.most);
  return fmt::format("{} {}, run {}; {} to go with it.\n", what, value, step.runId, runs);
}

int printLadder(const LadderArguments& options, const Ladder& ladder) {
  const LadderBounds bounds = boundsOf(ladder);
  if (options.json)
    printJson(ladderToJson(ladder));
  else
    std::puts(answerOf(ladder).c_str());
  if (!ladder.isOver) std::fputs("The ladder was cut off; the same with --resume goes on.\n", stderr);
  const bool isFound = ladder.isOver && bounds.chosen && bounds.confirmed.value_or(true);
  return isFound ? kDone : kAnswerIsNo;
}

// Who asks for a ladder has seen what it turns. One that goes on by a press may have come with a stranger's book.
Status checkConfirmed(const LadderArguments& options, const LadderAsk& ask) {
  const ActivePart part = activePart(ask);
  if (!options.asPlanned || !options.isResumed) return confirm({part});
  if (unconfirmedOf({part}).empty()) return {};
  return Error::badInput(
      fmt::format("This ladder came with the book, and nobody has confirmed on this machine that it may {}; "
                  "begin one of your own.",
                  withoutControls(asUtf8(part.text))));
}

int climbLadder(const LadderArguments& options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  const std::string book = std::filesystem::absolute(options.book).string();
  auto ask = askOf(options, book);
  if (!ask) return fail(ask.error());
  if (Status checked = checkLadderKnob(book, *ask); !checked) return fail(checked.error());
  if (Status allowed = checkConfirmed(options, *ask); !allowed) return fail(allowed.error());
  auto ladder = options.isResumed ? resumeLadder(book, *ask, options.root) : beginLadder(book, std::move(*ask));
  if (!ladder) return fail(ladder.error());
  DesktopLink desktop;
  desktop.keepAwake("A ladder is being climbed.");
  Speaker remarks(STDERR_FILENO);
  LadderHands hands;
  hands.isAsked = [&] { return isAsked.load(); };
  hands.tell = [&](const Ladder& now) { remarks.say(tellingOf(now)); };
  hands.carryOut = [&](const LadderRun& run) -> Status {
    const auto status = carryOutRecorder(runArguments(options, run), hands.isAsked);
    if (!status) return Error::environment("Cannot start the recorder of the next step.");
    // Refused before it began: the same would be said of it again and again.
    if (*status == kWrongUse || *status == kEnvironment)
      return Error::environment(fmt::format("The run of \"{}\" could not be carried out; its own words stand above.",
                                            withoutControls(run.setup)));
    return {};
  };
  auto climbed = climb(book, std::move(*ladder), hands);
  remarks.drain();
  if (!climbed) return fail(climbed.error());
  if (climbed->isOver) desktop.tell("The ladder is climbed", answerOf(*climbed), false);
  return printLadder(options, *climbed);
}

// What the ladders of a book have found.
int tellLadders(const std::string& path, const std::string& study, bool json) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto kept = book->ladders();
  if (!kept) return fail(kept.error());
  Json all = Json::array();
  for (const KeptLadder& one : *kept) {
    if (!study.empty() && one.study != study) continue;
    const auto ladder = fromKept(one);
    if (!ladder) {
      std::fputs((ladder.error().message + "\n").c_str(), stderr);
      continue;
    }
    all.push_back(ladderToJson(*ladder));
    all.back()["study"] = one.study;
    if (!json)
      std::puts(fmt::format("{}  {} / {}: {}", one.id, withoutControls(one.study), withoutControls(ladder->ask.setup),
                            answerOf(*ladder))
                    .c_str());
  }
  if (json) printJson({{"contract", 1}, {"ladders", all}});
  if (!json && all.empty()) std::fputs("There is no ladder in this book.\n", stderr);
  return kDone;
}

}  // namespace

void addLadderCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand(
      "ladder", "Turn one knob step by step until it no longer holds, step back, and confirm; docs/ladders.md");
  auto options = std::make_shared<LadderArguments>();
  LadderAsk& ask = options->ask;
  command->add_option("--book", options->book, "The book; made when missing")->required();
  command->add_option("--study", ask.study, "The study; made when missing")->required();
  command->add_option("--setup", ask.setup, "The setup whose knob is turned; each step is one of its own beside it")
      ->required();
  command->add_option("--load", ask.load, "The load, as for `ashg run`")->required();
  command->add_option("--knob", ask.knob, "Its id (`ashg knobs`), or one that you turn by hand: \"core voltage, V\"");
  std::string questions;
  for (const LadderQuestion& one : ladderQuestions())
    questions += fmt::format("{}{} ({})", questions.empty() ? "" : "; ", one.id, one.words);
  command->add_option("--question", options->question,
                      "A ready question, which says knob, range and rule: " + questions);
  command->add_option("--wanted", options->wanted, "What the question asks for: watts, dBA, percent")
      ->needs("--question");
  command->add_option("--from", options->from, "The first value");
  command->add_option("--to", options->to, "The last value");
  command->add_option("--step", options->step, "How far apart steps are");
  command
      ->add_option("--search", options->search,
                   "steps: one after the other; halving: between one that holds and one that does not")
      ->check(CLI::IsMember({"steps", "halving"}))
      ->capture_default_str();
  command
      ->add_option("--until", options->until,
                   "What ends a step as not held: a stop rule, or \"work.rate < 98% of first\"; several may be given")
      ->take_all();
  command->add_option("--hold", options->hold, "How long a step is held: a time, or \"settled LEAST..MOST\"")
      ->capture_default_str();
  command->add_option("--rest", options->rest, "What each step begins with: a time without load, or \"below T ..MOST\"")
      ->capture_default_str();
  command->add_option("--back", ask.back, "So many steps back from the first that does not hold")
      ->capture_default_str();
  command->add_option("--confirm", options->confirm, "A run at the value that is chosen, so long");
  command->add_option("--confirm-load", ask.confirmLoad, "With another load")->needs("--confirm");
  command->add_flag("--as-planned", options->asPlanned, "Names come out of the book")->group("");
  command->add_flag("--resume", options->isResumed, "Go on with one that was cut off; the same arguments");
  auto* root = command->add_option("--root", options->root, "A tree that looks like a machine's root")
                   ->check(CLI::ExistingDirectory);
  addInstrumentsOption(*command, options->instruments);
  command->add_option("--sim", options->sim, "A simulated bench: one that ships or a JSON file")->excludes(root);
  command->add_option("--speed", options->speed, "How many bench seconds pass in a second, with --sim")
      ->check(CLI::Range(0.01, 1e6));
  command->add_option("--seed", options->seed, "Seed of the simulated bench's noise; each step has the next")
      ->capture_default_str();
  command->add_flag("--json", options->json, "One JSON document at the end");
  command->callback([options, &action] { action = [options] { return climbLadder(*options); }; });
  CLI::App* tell = app.add_subcommand("ladders", "What the ladders of a book have found, a line each");
  tell->add_option("--book", options->book, "The book")->required();
  tell->add_option("--study", ask.study, "Of one study");
  tell->add_flag("--json", options->json, "One JSON document");
  tell->callback([options, &action] {
    action = [options] { return tellLadders(options->book, options->ask.study, options->json); };
  });
}

}  // namespace ash::cli
