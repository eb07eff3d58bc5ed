// SPDX-License-Identifier: GPL-3.0-or-later
// The runs of a plan one after the other, each a recorder of its own.
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <memory>
#include <optional>

#include "book/run_writer.h"
#include "cli/command.h"
#include "cli/instruments_option.h"
#include "cli/recorder_child.h"
#include "cli/signals.h"
#include "cli/speaker.h"
#include "desktop/desktop_link.h"
#include "helper/hands.h"
#include "model/knob_condition.h"
#include "model/text.h"
#include "runner/run_queue.h"
#include "runner/study_outlook.h"

namespace ash::cli {
namespace {

struct QueueArguments {
  std::string book, study, root, instruments;
  int most = 0;
  bool throughChanges = false;
  bool isCostAsked = false;
  std::optional<double> hours;
};

std::vector<std::string> runArguments(const QueueArguments& options, const QueuedRun& next, const std::string& id) {
  // With "=", so that a name out of a book that begins with "-" stays a value.
  std::vector<std::string> arguments = {thisProgram(),
                                        "run",
                                        "--book=" + options.book,
                                        "--study=" + options.study,
                                        "--setup=" + next.run->setup,
                                        "--load=" + next.run->load,
                                        "--run-id=" + id,
                                        "--as-planned"};
  if (!next.plan.bench.empty()) {
    arguments.push_back("--sim=" + next.plan.bench);
    arguments.push_back(fmt::format("--speed={}", next.plan.speed));
    arguments.push_back(fmt::format("--seed={}", next.left + next.saved));  // another one for every run of the plan
  } else if (!options.root.empty()) {
    arguments.push_back("--root=" + options.root);
  }
  if (next.plan.bench.empty() && !options.instruments.empty())
    arguments.push_back("--instruments=" + options.instruments);
  return arguments;
}

std::string withCommas(const std::vector<std::string>& parts) {
  std::string all;
  for (const std::string& part : parts) all += (all.empty() ? "" : ", ") + part;
  return all;
}

// Says how the run ended, with what is still owed to it; its outcome, empty when it is not in the book.
Result<Outcome> tellRun(const QueueArguments& options, const QueuedRun& done, const std::string& id, Speaker& results) {
  const auto book = Book::open(options.book, BookAccess::ReadOnly);
  if (!book) return book.error();
  const auto run = book->run(id);
  if (!run) return Error::environment("The run did not start; see above why.");
  const auto owed = owedBy(*book, *run, done.plan);
  const std::string open = owed ? openWords(owed->size()) : std::string();
  results.say(fmt::format("{}  {} / {} #{}  {}{}{}\n", id, run->info.setup, run->info.load, run->info.repeat,
                          outcomeText(run->info.outcome), open.empty() ? "" : ", " + open,
                          run->info.reason.empty() ? "" : ": " + run->info.reason));
  return run->info.outcome;
}

// What the plan costs and can tell; nothing is run.
int tellCost(const QueueArguments& options) {
  if (options.hours && !(*options.hours > 0 && std::isfinite(*options.hours)))
    return fail(Error::badInput("--hours: give the hours at hand as a number above 0."));
  const auto book = Book::open(options.book, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto study = book->study(options.study);
  if (!study) return fail(study.error());
  const auto evidence = evidenceFor(*book, *study);
  if (!evidence) return fail(evidence.error());
  const StudyOutlook outlook = outlookOf(*study, *evidence);
  Speaker results(STDOUT_FILENO);
  const std::string words = outlookWords(outlook);
  results.say(words.empty() ? "With a single setup or no load there is nothing to compare.\n"
                            : words + "\n" + scatterWords(outlook) + "\n");
  if (!options.hours || words.empty()) return kDone;
  const StudyOutlook within = outlookWithin(outlook, *options.hours);
  results.say(within.repeats == 0 ? fmt::format("In {:g} h not even one run of each can be done.\n", *options.hours)
                                  : fmt::format("In {:g} h: {}\n", *options.hours, outlookWords(within)));
  return kDone;
}

std::string savedWords(size_t runs) {
  return runs == 1 ? "All is decided: 1 run of the plan was not needed.\n"
                   : fmt::format("All is decided: {} runs of the plan were not needed.\n", runs);
}

// What the first pause without a most asks for: under load it would wait for as long as nobody comes.
std::string pauseOf(const StudyPlan& plan) {
  const auto procedure = parsePhases(plan.phases);
  if (!procedure) return {};
  for (const Phase& phase : procedure->phases) {
    const auto* pause = std::get_if<EndsByAnswer>(&phase.end);
    if (pause != nullptr && !std::isfinite(pause->mostS)) return withoutControls(pause->words);
  }
  return {};
}

bool canTurnPowerLimit(const std::string& root) {
  const auto knobs = knobsHere(root);
  return std::any_of(knobs.begin(), knobs.end(),
                     [](const Knob& knob) { return knob.id == kPowerLimitKnob && knob.isTurnable(); });
}

int queue(const QueueArguments& options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  Speaker results(STDOUT_FILENO), remarks(STDERR_FILENO);
  DesktopLink desktop;
  desktop.keepAwake("A queue of runs is being recorded.");
  const bool turnsPowerLimit = canTurnPowerLimit(options.root);
  for (int count = 0; options.most == 0 || count < options.most; ++count) {
    const auto book = Book::open(options.book, BookAccess::ReadOnly);
    if (!book) return fail(book.error());
    const auto next = nextInQueue(*book, options.study, turnsPowerLimit,
                                  options.throughChanges ? QueueOrder::AsPlanned : QueueOrder::NobodyFirst);
    if (!next) return fail(next.error());
    if (!next->run) {
      remarks.say(next->saved == 0 ? "All runs of the plan are done.\n" : savedWords(next->saved));
      desktop.tell("All runs are done", options.study, false);
      return kDone;
    }
    if (!next->byHand.empty() && !options.throughChanges) {
      const std::string what =
          fmt::format("Before {} / {}: {}.", next->run->setup, next->run->load, withCommas(next->byHand));
      remarks.say(fmt::format("The queue waits for a change by hand. {} Then start it again with --changed.\n", what));
      desktop.tell("The queue needs a change by hand", what, true);
      // Waiting at the very start answers the question; after some runs the queue has done what it could.
      return kAnswerIsNo;
    }
    if (const std::string words = options.throughChanges ? "" : pauseOf(next->plan); !words.empty()) {
      const std::string what =
          fmt::format("{} / {} pauses until a person has answered: {}.", next->run->setup, next->run->load, words);
      remarks.say(fmt::format("The queue waits for you. {} Start it again with --changed when you are there.\n", what));
      desktop.tell("The queue needs a person", what, true);
      return kAnswerIsNo;
    }
    if (next->waiting)
      remarks.say(fmt::format("{} / {} waits for a change by hand ({}); going on with {} / {}, which needs nobody.\n",
                              next->waiting->setup, next->waiting->load, withCommas(next->waitsFor), next->run->setup,
                              next->run->load));
    const std::string id = newRunId();
    if (!carryOutRecorder(runArguments(options, *next, id), [&] { return isAsked.load(); }))
      return fail(Error::environment("Cannot start the recorder of the next run."));
    const auto outcome = tellRun(options, *next, id, results);
    if (!outcome) return fail(outcome.error());
    if (isAsked) return kDone;
    if (*outcome == Outcome::Completed) continue;
    remarks.say("The queue ends here: the last run was not completed.\n");
    desktop.tell("The queue has stopped", "The last run was not completed.", true);
    return kAnswerIsNo;
  }
  return kDone;
}

}  // namespace

void addQueueCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand(
      "queue",
      "Carry out the runs of a study's plan one after the other, until one needs a person or is not completed");
  auto options = std::make_shared<QueueArguments>();
  auto isChanged = std::make_shared<bool>(false);
  command->add_option("--book", options->book, "The book")->required();
  command->add_option("--study", options->study, "The study")->required();
  addInstrumentsOption(*command, options->instruments);
  command->add_option("--root", options->root, "Read a tree that looks like a machine's root")
      ->check(CLI::ExistingDirectory);
  command->add_option("--most", options->most, "At most so many runs")->check(CLI::PositiveNumber);
  command->add_flag("--cost", options->isCostAsked,
                    "Run nothing; say what the plan costs and what differences it can tell");
  command->add_option("--hours", options->hours, "With --cost: what could be told in so many hours")->needs("--cost");
  command->add_flag("--changed", *isChanged,
                    "The change by hand before the first of these runs is done, or you are there for its pauses");
  command->add_flag("--through-changes", options->throughChanges,
                    "Go on although a plan asks for changes by hand or pauses for a person");
  command->callback([options, isChanged, &action] {
    action = [options, isChanged] {
      if (options->isCostAsked) return tellCost(*options);
      if (!*isChanged || options->throughChanges) return queue(*options);
      // One run with the setup that is fitted now, then the rest as usual.
      QueueArguments first = *options;
      first.throughChanges = true;
      first.most = 1;
      const int status = queue(first);
      if (status != kDone || options->most == 1) return status;
      if (options->most > 1) --options->most;
      return queue(*options);
    };
  });
}

}  // namespace ash::cli
