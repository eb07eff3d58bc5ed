// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/climb.h"

#include <fmt/format.h>

#include <algorithm>
#include <thread>
#include <utility>

#include "book/run_writer.h"
#include "ladder/judge.h"
#include "ladder/search.h"
#include "model/knob_condition.h"
#include "model/load_way.h"
#include "model/setup_name.h"
#include "model/study_plan.h"
#include "model/text.h"
#include "runner/interrupted.h"
#include "system/clock.h"
#include "system/confirmed.h"
#include "system/runtime_folder.h"
#include "system/sha256.h"
#include "system/sole_lock.h"

namespace ash {
namespace {

constexpr int kMostTries = 3;  // of a step whose recorder died without a word

Setup* findIn(Study& study, const std::string& name) {
  const auto found =
      std::find_if(study.setups.begin(), study.setups.end(), [&](const Setup& one) { return one.name == name; });
  return found == study.setups.end() ? nullptr : &*found;
}

// Of a study that a ladder begins: its steps are what is under test, each run once.
StudyPlan planOf(const LadderAsk& ask) {
  StudyPlan plan;
  plan.repeats = 1;
  plan.phases = phasesText({{ask.rest, ask.hold}});
  plan.underTest = {fieldOfKnob(ask.knob)};
  plan.bench = valueIn(ask.bench, "sim", "");
  return plan;
}

// The study with the ladder's setup, made where they are missing.
Result<Study> placeOf(Book& book, const LadderAsk& ask) {
  auto known = book.study(ask.study);
  Study before, after;
  if (known) before = after = std::move(*known);
  after.name = ask.study;
  if (after.id == 0) after.plan = planToJson(planOf(ask));
  if (findIn(after, ask.setup) == nullptr) after.setups.push_back({ask.setup, Json::object(), Json::object()});
  return before.setups.size() == after.setups.size() ? Result<Study>(after) : book.putStudy(before, after);
}

std::vector<ActivePart> partsOf(const Setup& setup) {
  Study cell;
  cell.setups = {setup};
  return activeParts(cell);
}

// What the ladder's loads run for a setup: a line may hold the very field that the ladder turns.
std::vector<ActivePart> loadsOf(const Study& study, const LadderAsk& ask, const std::string& setup) {
  std::vector<ActivePart> parts;
  for (const std::string& load : {ask.load, ask.confirmLoad}) {
    for (ActivePart& part : activeParts(study, setup, load)) {
      if (part.where == "load " + load) parts.push_back(std::move(part));
    }
  }
  return parts;
}

// The setup of a step, made where it is missing: the ladder's own with the knob at the step's value. What a person asks
// a ladder to turn is confirmed by that.
Result<std::string> setupOf(const std::string& bookPath, const LadderAsk& ask, size_t index) {
  auto book = Book::openOrCreate(bookPath);
  if (!book) return book.error();
  auto study = placeOf(*book, ask);
  if (!study) return study.error();
  const double value = ask.valueAt(index);
  Setup wanted = *findIn(*study, ask.setup);
  wanted.id = 0;
  wanted.name = rungName(ask.setup, value, ask.unit);
  wanted.conditions = withKnob(wanted.conditions, ask.knob, value);
  if (const Setup* there = findIn(*study, wanted.name)) {
    if (knobConditions(there->conditions) == knobConditions(wanted.conditions)) return wanted.name;
    return Error::badInput(fmt::format("The setup \"{}\" is there already and has other knobs; give it another name.",
                                       withoutControls(wanted.name)));
  }
  const bool isOwnSeen = unconfirmedOf(partsOf(*findIn(*study, ask.setup))).empty();
  const bool areLoadsSeen = unconfirmedOf(loadsOf(*study, ask, ask.setup)).empty();
  Study after = *study;
  after.setups.push_back(wanted);
  for (Load& load : after.loads) setWay(load, wanted.name, wayOf(load, ask.setup));
  auto kept = book->putStudy(*study, after);
  if (!kept) return kept.error();
  // What the setup turns beside it came from elsewhere, and is for somebody to look at first.
  if (const auto parts = partsOf(wanted); isOwnSeen && !parts.empty()) {
    if (Status confirmed = confirm(parts); !confirmed) return confirmed.error();
  }
  if (const auto parts = loadsOf(after, ask, wanted.name); areLoadsSeen && !parts.empty()) {
    if (Status confirmed = confirm(parts); !confirmed) return confirmed.error();
  }
  return wanted.name;
}

Status keep(const std::string& bookPath, const Ladder& ladder) {
  auto book = Book::open(bookPath, BookAccess::ReadWrite);
  return book ? book->putLadder(toKept(ladder)) : Status(book.error());
}

std::vector<std::string> stopRulesOf(const LadderAsk& ask) {
  std::vector<std::string> rules;
  for (const LadderRule& rule : ask.until) {
    if (const auto* stop = std::get_if<StopRule>(&rule)) rules.push_back(stopRuleText(*stop));
  }
  return rules;
}

LadderRun runOf(const Ladder& ladder, const LadderStep& step) {
  const LadderAsk& ask = ladder.ask;
  Procedure procedure{{ask.rest, ask.hold}};
  if (step.isConfirming) procedure.phases.back() = {PhaseKind::Soak, EndsAfter{ask.confirmS}};
  const bool isOther = step.isConfirming && !ask.confirmLoad.empty();
  return {step.runId,
          step.setup,
          isOther ? ask.confirmLoad : ask.load,
          phasesText(procedure),
          stopRulesOf(ask),
          ladder.steps.size() - 1};
}

// What became of the last step that was begun; false when it has to be done again.
Result<bool> takeVerdict(const std::string& bookPath, Ladder& ladder, StepVerdict& verdict) {
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  if (!book) return book.error();
  LadderStep& step = ladder.steps.back();
  auto judged = judgeStep(*book, ladder, step);
  if (!judged) return judged.error();
  verdict = std::move(*judged);
  step.held = verdict.held;
  step.why = verdict.why;
  step.readBack = verdict.readBack;
  step.leftK = verdict.leftK;
  step.leftOf = verdict.leftOf;
  return step.held.has_value();
}

Result<SoleLock> tryLock(const Ladder& ladder) {
  const auto folder = runtimeSubfolder("ladders");
  if (!folder) return folder.error();
  // An id may come out of anybody's book: it is no name of a file.
  constexpr size_t kDigits = 16;
  return SoleLock::take(*folder + "/" + sha256Hex(ladder.id).substr(0, kDigits));
}

// Only one process climbs a ladder at a time. Who only looks whether it is climbed has it for a moment.
Result<SoleLock> lockOf(const Ladder& ladder) {
  constexpr int kTries = 25;
  for (int i = 0; i < kTries; ++i) {
    auto lock = tryLock(ladder);
    if (!lock || lock->isOurs()) return lock;
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
  }
  return Error::environment("This ladder is being climbed by another process; wait for it, or end it.");
}

Result<Ladder> findToResume(const Book& book, const LadderAsk& ask) {
  auto kept = book.ladders();
  if (!kept) return kept.error();
  std::reverse(kept->begin(), kept->end());
  std::vector<std::string> different;
  for (const KeptLadder& one : *kept) {
    auto ladder = fromKept(one);
    if (!ladder || ladder->isOver || ladder->ask.study != ask.study) continue;
    const auto differences = differencesOf(ladder->ask, ask);
    if (differences.empty()) return ladder;
    if (different.empty()) different = differences;
  }
  if (different.empty())
    return Error::badInput("There is no ladder here that was cut off; begin one without --resume.");
  std::string names;
  for (const std::string& name : different) names += (names.empty() ? "" : ", ") + name;
  return Error::badInput(fmt::format(
      "The ladder that was cut off was asked for otherwise ({}); it goes on with the same arguments only.", names));
}

}  // namespace

ActivePart activePart(const LadderAsk& ask) {
  return {"ladder", ActiveKind::Knob,
          fmt::format("turn {} from {} to {} under {}", ask.knob, ask.from, ask.to, ask.load), askToJson(ask)};
}

Result<Ladder> beginLadder(const std::string& bookPath, LadderAsk ask, const std::string& id,
                           const std::string& created) {
  if (Status checked = checkAsk(ask); !checked) return checked.error();
  auto book = Book::openOrCreate(bookPath);
  if (!book) return book.error();
  if (const auto placed = placeOf(*book, ask); !placed) return placed.error();
  Ladder ladder{id.empty() ? newRunId() : id, created.empty() ? isoTimeNow() : created, std::move(ask), {}, false};
  if (Status kept = book->putLadder(toKept(ladder)); !kept) return kept.error();
  return ladder;
}

Result<Ladder> resumeLadder(const std::string& bookPath, const LadderAsk& ask, const std::string& root) {
  auto book = Book::open(bookPath, BookAccess::ReadWrite);
  if (!book) return book.error();
  auto ladder = findToResume(*book, ask);
  if (!ladder) return ladder;
  if (const auto lock = lockOf(*ladder); !lock) return lock.error();
  if (const auto closed = closeInterrupted(*book, root); !closed) return closed.error();
  // A run that somebody has called void meanwhile says nothing.
  std::erase_if(ladder->steps, [&](const LadderStep& step) {
    const auto run = book->run(step.runId);
    return run && run->info.outcome == Outcome::Void;
  });
  if (ladder->steps.empty() || ladder->steps.back().held) return ladder;
  const auto cut = book->run(ladder->steps.back().runId);
  if (cut && cut->info.outcome == Outcome::Running)
    return Error::badInput(
        fmt::format("The run {} of this ladder goes on still; wait for it, or end it.", cut->info.id));
  // What could not be carried out, for want of room or of a load, is tried anew.
  StepVerdict verdict;
  const auto isKnown = takeVerdict(bookPath, *ladder, verdict);
  if (!isKnown || !*isKnown) ladder->steps.pop_back();
  if (Status kept = book->putLadder(toKept(*ladder)); !kept) return kept.error();
  return ladder;
}

bool isBeingClimbed(const Ladder& ladder) {
  const auto lock = tryLock(ladder);
  return lock && !lock->isOurs();
}

Result<Ladder> climb(const std::string& bookPath, Ladder ladder, const LadderHands& hands) {
  const auto lock = lockOf(ladder);
  if (!lock) return lock.error();
  int tries = 0;
  while (const auto next = nextStep(ladder)) {
    if (hands.isAsked()) return ladder;
    const auto setup = setupOf(bookPath, ladder.ask, next->index);
    if (!setup) return setup.error();
    ladder.steps.push_back({next->index, next->isConfirming, *setup, hands.newId(), {}, {}, {}});
    // Before the run begins, so that a machine that goes down finds where it was.
    if (Status kept = keep(bookPath, ladder); !kept) return kept.error();
    hands.tell(ladder);
    if (Status done = hands.carryOut(runOf(ladder, ladder.steps.back())); !done) return done.error();
    StepVerdict verdict;
    const auto isKnown = takeVerdict(bookPath, ladder, verdict);
    if (!isKnown) return isKnown.error();
    if (!*isKnown && (verdict.isStopped || hands.isAsked())) return ladder;
    if (!*isKnown && ++tries >= kMostTries)
      return Error::environment(
          fmt::format("The recorder of the step at {} ended {} times without a word; see its "
                      "output above.",
                      ladder.ask.valueAt(next->index), tries));
    if (*isKnown)
      tries = 0;
    else
      ladder.steps.pop_back();
    if (Status kept = keep(bookPath, ladder); !kept) return kept.error();
    hands.tell(ladder);
  }
  ladder.isOver = true;
  if (Status kept = keep(bookPath, ladder); !kept) return kept.error();
  return ladder;
}

}  // namespace ash
